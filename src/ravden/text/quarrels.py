"""The workshops' open questions, and how they are answered on one instrument."""

QUESTIONS = {
    "between": "Sand between coats?",
    "fineness": "How fine between coats?",
    "weight": "Many thin coats, or few thick ones?",
    "waiting": "How long to wait before levelling or rubbing out?",
    "satin": "Satin from the gun, or rubbed?",
    "soap": "Soap-coated paper?",
    "wipe": "Wipe with solvent to see scratches?",
    "first-grit": "Which grit to level with first?",
    "where": "Where to spend the time: laying it flat, or levelling it?",
    "wet": "Level wet or dry?",
    "circles": "Circles or straight lines on the film?",
    "machine": "The last gloss by machine or by hand?",
    "wool": "Steel wool?",
    "filling": "Fill the pores before the colour or after?",
    "pore-level": "Level with the filler, or with the sealer over it?",
    "prepare": "How fine to sand the bare wood?",
    "across": "With the grain, or across it?",
}

SAID = {
    "between-oil": "Hardly: a coat is {coat_um:filmg}, thinner than the scratch of any paper. The finest wool over a dry "
    "coat takes the dust off and leaves the film.",
    "between-oil-other": "Paper worked wet with the oil itself fills the pores with its own slurry, in the first coats.",
    "would-cut": "Levelling here has odds of {odds:odds} of cutting through the top {layer_um:film}",
    "between-melts": "Only nibs: this film dissolves, and its coats melt into one, so no coat needs a key. Every sanding "
    "between would come off the film that the {taken_um:film} of levelling and rubbing out still have to pay for.",
    "between-melts-other": "A rough coat copies itself into the next; flat all along makes the last levelling short."
    "{cut:? {cut}.}",
    "between-layers": "Yes, once the recoat window has shut: this film is layers, and the next one holds by a key; "
    "{now}. {cut:?{cut}; {needed_um:film} on top would make it one in ten.|No later sanding is planned that "
    "could cut a layer open.}",
    "between-layers-other": "Coats laid while the last is young bond without a scuff, and every scuff is film lost and a "
    "chance of a cut edge.",
    "key-by-age": "the last coat is {age_h:h} old, so it {wants:?needs one|does not yet}",
    "key-within": "within {limit_h:h} of the last coat it does not",
    "key-always": "every coat needs one here",
    "fineness-melts": "As fine as you like: {grade} leaves {deepest_um:film.1f}, and the next coat melts it. Nothing is "
    "gained by a key in a film that dissolves.",
    "fineness-melts-other": "{grade} takes a nib off in fewer strokes, and its scratches melt as well.",
    "fineness-layers": "{grade}, the finest of your drawer that still gives grip: finer is as bad as gloss. Its marks "
    "need {hides_um:film} of the next coat, which lays {coat_um:film} and {hidden:?hides them|will not hide them in "
    "one}.",
    "fineness-layers-other": "{grade} grips better and cuts brush marks and peel flat while it is at it.",
    "weight": "{thin:?Thin|Either}: {fewer} coats of {heavy_um:film.3g} instead of {coats} of {thin_um:film.3g} would be "
    "ready {days:?{days} day{one:?|s} {later:?later|sooner}|the same day}. That is {saved} fewer of them{sinks}.",
    "sinks-more": ", with {heavy_um:film.1f} still to shrink at the first window against {thin_um:film.1f}",
    "weight-other": "A heavy coat flows out by itself; many dry ones build texture that has to be levelled.",
    "waiting": "{wait_h:h} after the last coat, with {known:?{shrink_um:film.1f} still to shrink|its shrink to come}; "
    "three thin coats on a shelf would bear it after {shelf_h:h}. A can's drying time speaks of those three coats, not "
    "of {coats} of them in this air.",
    "waiting-other": "A month does no harm: what has not shrunk by then is little, and waiting costs no hands.",
    "satin": "This plan {coated:?ends in one flatted coat, which is left as it falls|rubs it}. Rubbing from the texture "
    "to {sheen} would be {cost}.",
    "rub-cost": "{minutes:min} and {film_um:film}",
    "not-in-drawer": "more than the drawer has",
    "satin-coated-other": "A rubbed satin can be rubbed again after a scratch; a sprayed one has to be sprayed again.",
    "satin-rubbed-other": "One satin coat over levelled gloss is even everywhere, edges and corners too.",
    "soap-craters": "No: {coats} waterborne coats are still to come, and soap left by the paper opens them in craters. "
    "Use open-coat paper, or wipe twice.",
    "soap-craters-other": "Clogged paper scratches deeper than any soap harms.",
    "soap-wiped": "Wipe after it: {coats} coats are still to come over what it leaves. This film forgives more than a "
    "waterborne one.",
    "soap-fine": "Use it: no coat is still to come that its residue could spoil. It clogs less on a film this young.",
    "soap-fine-other": "Open-coat paper leaves nothing that could ever come back.",
    "wipe": "With a naphtha-class wipe, yes: it shows scratches and takes oil and dust. Of this film, {bite}.",
    "wipe-other": "A breath, or a lamp held low, shows as much and leaves nothing in the film.",
    "bites-alcohol": "alcohol bites into it at once",
    "bites-thinner": "its own thinner melts it for good, however old it is",
    "bites-weeks": "alcohol and strong thinners soften it for weeks",
    "bites-swells": "it is not dissolved any more, but strong thinners swell it",
    "first-grit": "{fine:?Fine|Coarse}: from {texture_um:film} of texture, {fine_grade} first takes {fine_um:film} in "
    "{fine_min:min}, {coarse_grade} first {coarse_um:film} in {coarse_min:min}. {pays}",
    "first-grit-one": "{grade}: here both habits begin with it. From {texture_um:film} of texture the whole ladder "
    "takes {film_um:film} in {minutes:min}.",
    "pays-both": "The film pays for both.",
    "pays-fine": "The film cannot pay for the coarse one.",
    "pays-neither": "As it is known now, the film can pay for neither: more coats, or a measurement.",
    "first-grit-other": "{melts:?A last thin flow coat would melt its scratches|No later coat melts its scratches}; "
    "{grade} flattens heavy texture while a fine paper only polishes its tops.",
    "where": "Laying it flat: from {flat_um:film} of texture the rub-out is {flat_min:min}, from {heavy_um:film} "
    "{heavy_min:min}. The rough surface also costs {film_um:film}, {coats:.1f} coats laid only to be sanded off.",
    "where-other": "Slow, careful spraying of {coats} coats costs minutes on each of them; {minutes:min} of sanding is "
    "once.",
    "wet-young": "Dry: water softens a waterborne film in its first weeks. Here the ladder is {wet_min:min} wet and "
    "{dry_min:min} dry.",
    "wet-young-other": "Wet paper stays clear and cool, and leaves a finer scratch.",
    "wet": "Wet with a drop of soap where the film is whole, by hand: the ladder is {wet_min:min} wet and {dry_min:min} "
    "dry. Dry round every opening: keep it {inside:?away from the sound hole and any bare wood|out of routs and screw "
    "holes}.",
    "wet-other": "Dry, the dull field shows every low spot at once, and no open wood can swell; never wet under a "
    "mains-powered sander.",
    "circles": "Circles are fine until the last paper: this ladder ends with {grade}. It leaves {residual_um:film.2f}, "
    "under which the paths of the papers are gone.",
    "circles-other": "Straight strokes, each grit across the last, show at a glance when the one before is gone.",
    "lines": "Straight lines at the end: this ladder ends with {grade}. It leaves {residual_um:film.2f}, and what is "
    "left of a circle shows as a swirl.",
    "lines-other": "Circles cut faster and wear the block evenly.",
    "machine": "By machine it is {pad_min:min} of compounds on these {area_cm2:area}, by cloth {hand_min:min}. "
    "{soft:?The film is still too soft for a wheel's heat today.|Once its window for buffing is open the film bears a "
    "pad that is kept moving, off every edge.}",
    "machine-other": "A hand cannot burn through, and feels an edge coming.",
    "machine-later": "Waited for, the machine saves the most tiring hours of the job.",
    "wool-never": "Never on this finish: threads left in a waterborne film rust and stain it. Synthetic wool cuts "
    "alike.",
    "wool-pickups": "Synthetic here: this body carries pickups, and steel threads cling to their magnets for good. The "
    "film bears it.",
    "wool-steel": "Steel will do: this film does not rust it, and there is no magnet near. Blow every thread off before "
    "wax.",
    "wool-other": "It is cheap, fine, and follows every curve, where paper bridges.",
    "oil-left": "Oil is left ({balls:?paper balls up}{both:? and }{refuses:?dye will not take}): wipe with a "
    "naphtha-class solvent, change the cloth until it stays clean, cut back, and try again before any colour or film.",
    "filling-closed": "On this ground it hardly matters: its pores are closed or filled already. Fill first and the "
    "colour lies over one even surface.",
    "filling-closed-other": "Filler wiped over thin colour draws the grain on purpose, where there is grain to draw.",
    "filling-after": "This plan fills after: the grain will show in contrast. The look decides; filler over colour takes "
    "two to four thin rounds.",
    "filling-after-other": "Filled before, nothing can smear the colour.",
    "filling-before": "This plan fills before: the grain will vanish. The look decides; filler sands flush at once.",
    "filling-before-other": "Filled after, the pores become the picture.",
    "pore-level": "With the filler: pores filled flush sink {filled_um:film.1f} after levelling, half-filled ones "
    "{half_um:film.1f}. {coloured:?There is colour beneath, so thin resin over it must never be sanded through.|Nothing "
    "beneath can be cut into, so it may be sanded flush to the wood.}",
    "pore-level-other": "Filler that only seals, with sealer built over it and cut back, never touches the wood or its "
    "colour.",
    "prepare": "For {habit} next: {ends:?{ends}|the first paper} ends it, as this plan has it. Stopping at "
    "{first:?{first}|the first paper} is {first_min:min} by random-orbit sander, going on to {last:?{last}|the first "
    "paper} is {last_min:min}.",
    "across": "Across or aslant first, with it at the last: the first paper's marks are some {first_um:film} deep and go "
    "anyway. The last paper's, some {last_um:film}, stay, and along the grain they hide.",
    "across-other": "Always with the grain, no stroke can be missed by the next; on figured wood a scraper has no "
    "direction at all.",
}
