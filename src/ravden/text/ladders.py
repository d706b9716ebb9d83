"""What is said of a ladder of grits: each rung, the film under it, the drawer, remarks on one's own, and the wheel."""

SAID = {
    # Each rung: why it is there, what to see before moving on, and why it cannot be left out.
    "levels": "Levels {texture_um:film} of texture: about {remove_um:film} to take off, where this grain can take "
    "{limit_um:film}.",
    "takes-out": "Takes out the {before} scratch: about {remove_um:film.2g} of the {limit_um:film.2g} it can take"
    "{near:?, near its limit}.",
    "look-level": "Even and dull all over: a shiny spot in the dull field is a low spot. Film-coloured dust only.",
    "look-wool": "The same soft sheen everywhere, strokes all one way; no dull patch beside a bright one.",
    "look-gloss": "The lamp's edge is crisp from every side, and no cobweb shows when you turn the work.",
    "look-powder": "With oil on varnish and shellac, with water and a drop of soap on the rest, until it is even; wipe "
    "off all of it before wax or a coat.",
    "look-polish": "No straight scratch is left under the lamp; a stray one means one grade back, just there.",
    "look-fine": "The lamp shows clearly at a low angle; hunt stray deep scratches now, not at the buffer.",
    "look-paper": "Only this grade's scratch is left, crossing the last one; wipe dry and look along the light.",
    "look-same": "The same scratch as on the zones done before, and none of the last grade's.",
    "look-scuff": "Dull all over, no shiny spot; dust the colour of the film.",
    "only-rung": "it is the only rung",
    "leaves-key": "it leaves the key that is wanted",
    "leaves-sheen": "it leaves the sheen that is wanted",
    "needed-for": "needed: without it {grade} must take {remove_um:film.1f}, its limit is {limit_um:film.1f}",
    "needed-jump": "needed: without it the jump is too big",
    "needed-after": "needed by the rungs after it",
    "ladder-done": "the ladder is done",
    # The film under it.
    "close": "Tight on {zone}: about {left_um:film} should be left over a floor of {floor_um:film}; the odds of a "
    "thinner place are {odds}. Measure there again after the first paper.",
    "measure-first": "Measure first, on {zones:list}: on {zone} about {left_um:film} should be left, but the film is "
    "known only to ±{sd_um:film}. {settles}",
    "settles-gauge": "A few touches of a gauge there settle it.",
    "settles-micrometer": "A micrometer on the witness card settles most of it.",
    "settles-scale": "A witness card weighed before and after a coat settles most of it.",
    "settles-comb": "A comb in the next coat tells what a coat lays down, and settles most of it.",
    "settles-nothing": "With nothing to measure by, look after the first paper: the colour of the dust and of the film "
    "tell.",
    "left-alone": "{zone}: too thin for the whole ladder; leave it alone.",
    "joins-late": "{zone}: too thin for the whole ladder; go over it lightly, from {grade} on only.",
    "film-short": "{zone}: {left_um:?only about {left_um:film} of sound film would be left|no sound film would be left}"
    ", and the odds of going below {floor_um:film} are {odds}. {instead}",
    "instead": "Lay {more_um:?about {more_um:film} more first|more first}, {duller:?stop at {duller}, which this film "
    "can pay for, }or fill the low spots so that less has to come off.",
    "flatted-as-is": "this film is dulled by particles all the way through: its sheen comes from the gun, so leave it as "
    "it is; a nib is cut flat and the coat sprayed again, or the whole evened with light wool",
    "flatted-no-gloss": "this film is dulled by particles all the way through; rubbing will not bring it to {target}. "
    "Put clear gloss over it",
    "nothing-sanded": "nothing is sanded in this method: its sheen comes from how it is laid on",
    "all-sanded": "all the sanding of this method is done",
    "reached-key": "the key for the next coat is reached with {grade}",
    "reached-sheen": "{target} is reached with {grade}",
    # The drawer.
    "none-owned": "this step is done with {grades:list}, and none of them is in the drawer: add it, or choose a sheen",
    "nothing-for-film": "nothing in the drawer is for film: stones, loose grain and garnet are not; add papers or "
    "compounds",
    "no-key-paper": "the next coat wants a key: add a paper of {low_um:.0f} to {high_um:grain} grain",
    "too-far-from": "the grades in the drawer are too far from {grade} to reach {target}: add one in between",
    "nothing-levels": "nothing in the drawer can level {texture_um:film} of texture: a paper of about {grain_um:grain} "
    "grain or coarser, on a firm block, is wanted first",
    "nothing-ends": "nothing in the drawer ends at {target}; add a grade or compound that does{nearest:?, or stop at "
    "{nearest}, which it can reach}",
    "too-far-apart": "the grades in the drawer are too far apart to get from {texture_um:film} of texture to {target}: "
    "add one in between{nearest:?, or stop at {nearest}}",
    # Remarks on a sequence of one's own.
    "AMBIGUOUS_SYSTEM": "{asks}",
    "START_SOFT": "Soft backing follows the bumps. It will shine the orange peel, not level it.",
    "START_TOO_COARSE": "{grade} is coarser than this surface needs: its scratches are {pit_um:film} deep, the texture "
    "only {texture_um:film}.",
    "START_TOO_FINE": "{grade} is too fine to level this texture: {remove_um:film} to remove, {limit_um:film} is its "
    "limit. Start coarser.",
    "BACKWARD": "{first} then {then} goes backwards: the second has the coarser grain. Swap them or leave it out.",
    "SAME_SIZE": "{first} and {then} are the same size within their tolerances. One of them is enough.",
    "JUMP_TOO_BIG": "{first} to {then} is a big jump ({times:.1f} times). Put a grade between, or expect to chase "
    "{first} scratches later.",
    "AFTER_WOOL": "Nothing is worked after {grade}: wool ends a ladder.",
    "CANNOT_ERASE": "{grade} cannot take out {before} scratches: about {remove_um:film.1f} to remove, "
    "{limit_um:film.1f} is its practical limit. Add a finer paper before it.",
    "TIGHT": "{grade} is close to what it can do: about {remove_um:film.1f} of {limit_um:film.1f}.",
    "WASTEFUL_RUNG": "You could leave out {grade}: about {minutes:.0f} minutes{film_um:? and {film_um:film.1f}} saved.",
    "FLATTED_FILM_WONT_POLISH": "{why}",
    "FINISH_MISSES_SHEEN": "Ending at {grade} leaves {ends}.",
    "no-key": "no key for the next coat: end on a paper of {low_um:.0f} to {high_um:grain} grain",
    "other-sheen": "about {gu60:.0f} gloss units at 60 degrees ({sheen}). That is not {target}",
    "SLOW": "This works but takes about {times:.1f} times as long as {grades:commas}.",
    "FILM_CAP": "Too much film: {zone} {used_um:film} used, {most_um:film} allowed by its odds.",
    "SOFT": "The film is still a little soft: halve the life of every paper.",
    "EDGES": "Keep off the edges {grade:?until {grade}|altogether, or tape them}.",
    # Risks of a method on a body.
    "risk-thin": "the ladder may take {zone:lower} below {floor_um:film}: more coats, or a measurement before sanding",
    "risk-window": "a window does not open within sight in this air",
    "risk-light": "its waits count from the exposure: it needs a lamp, or the sun",
    # The wheel.
    "wheel-flatted": "Never: a film with flattening agent only turns patchy on a wheel.",
    "wheel-waxy": "Never: oil and wax leave no film to buff; burnish with a cloth.",
    "wheel-no-film": "Never: there is no film yet.",
    "wheel-too-fast": "Never at this speed and press: the film would smear. A smaller or slower wheel, or by hand.",
    "wheel-too-soft": "Never, as it is now: the film softens before it shines. Wait, or polish by hand.",
    "wheel-light-press": "Slow: light press, keep moving, and let the panel cool between passes; swirl and print are "
    "near.",
    "wheel-fast-rim": "Slow it down: the film bears the heat, but a fast rim grabs. 8 to 15 m/s is enough; run off "
    "edges.",
    "wheel-fine": "Fine: keep the work moving, press lightly, run off edges and never onto them.",
}

# Two habits of rubbing out: what each is called, why people keep to it, and what speaks against it.
SCHOOLS = {
    "coarse-start": (
        "Coarse start, every grade", "Each paper has little to do and a stray scratch is met early.",
        "Every extra grade costs film and an hour's patience.",
    ),
    "fine-start": (
        "Fine start, few grades", "Least film, so least risk at the edges.",
        "Long minutes on the first paper, and a coarse scratch is hard to chase.",
    ),
}  # fmt: skip
