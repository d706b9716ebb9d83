"""What can go wrong in a repair, why there is only one, and what speaks against a defect as it was told."""

SAID = {
    "overshoot": "{odds:odds} odds that cutting {um:film} goes into sound film",
    "ends-thin": "{odds:odds} odds that the {zone} ends under {floor_um:film}, the least wanted there",
    "never-ready": "it does not come ready within sight: warm the room, or choose another",
    "only-strip": "{what} on {group}, as far as this is along: nothing mends it but stripping that zone",
    "no-satin": "no coat with flatting in it is logged there: is it dust, or a cloud?",
    "melts-into-one": "this film melts into one: rings are rarer here than scratches and film that is not level",
    "contradicts": "{what} is noted on the same spot, and no spot has both: take one of them back (Ctrl+Z, or the log)",
}
