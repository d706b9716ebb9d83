"""What is wrong with an input, where it speaks of quantities; and the questions a grade without a scale asks."""

SAID = {
    "deeper-than-film": "the film of the {zone} was {film_um:film} at most, and it is said to go {depth_um:film} deep",
    # Bounds of a field, in its own unit.
    "not-between": "must be between {low} and {high}{unit} (got {got})",
    "not-above": "must be greater than {limit} (got {got})",
    "not-below": "must be less than {limit}{unit} (got {got})",
    "too-soft": "the film is too soft to sand well: {margin_K:.0f} K above the bench, {least_K:.0f} K wanted",
    "sanded-too-much": "more than can be there: {um:film} off the {zone}, which has about {left_um:film}",
    "torn-act": "of the {wrote} entries that were written as one act {there} are there: all of it is set aside",
    "unreadable-entry": "an entry cannot be read: {why}",
    "no-cabinet": "hotter than {temp_C:temp} is no warm cabinet",
    "no-scale": (
        '"{typed}" has no scale: in {system} it is {grain_um:grain}. Is there a P before the number, or a micron size on '
        "the back?"
    ),
    "many-scales": (
        '"{typed}" could be anything from {low_um:.0f} to {high_um:grain}. Is there a P before the number, or a micron '
        "size on the back?"
    ),
    "no-scuff-paper": "no paper between {low_um:.0f} and {high_um:grain} grain is in the drawer for this scuff",
    "no-last-paper": "no paper of about {grain_um:grain} grain is in the drawer to end with",
    "papers-apart": "the papers in the drawer are too far apart: add one above {grain_um:grain} grain",
}
