"""The verb find: the best of all that can be bolted on a drive."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

from jovial_tack.verbs.arguments import (
    Parser,
    UsageError,
    as_json,
    own_catalogue,
    read_to_compute,
    show,
)
from jovial_tack.verbs.figures import speeds, whole


def find_verb(arguments: Sequence[str]) -> int:
    """Try every combination of a build's choices. Returns the exit status."""
    parser = Parser(
        prog="jovial-tack find",
        description="Every combination of what the build's choices let change, tried at rest and at"
        " engine speeds; those that fit, the best first. Exit status 1 where nothing fits.",
    )
    parser.add_argument("build", metavar="BUILD.jtack", type=Path)
    parser.add_argument(
        "--rpm", type=speeds, help="engine speeds, such as 850,2600,6800 (idle, cruise, redline)"
    )
    parser.add_argument(
        "--limit",
        type=whole(1, 1000, "a count from 1 to 1000"),
        metavar="N",
        help="how many are told",
    )
    parser.add_argument(
        "--sure", action="store_true", help="how sure each fits and holds, within all tolerances"
    )
    parser.add_argument("--json", action="store_true", help="the answer as JSON")
    asked = parser.parse_args(arguments)

    import numpy as np

    from jovial_tack.answers.drive.solve import solve_again
    from jovial_tack.answers.finder.space import space_of
    from jovial_tack.answers.finder.sure import how_sure
    from jovial_tack.answers.finder.trying import find, low_side
    from jovial_tack.answers.finder.vetting import can_be_put_on, vetted
    from jovial_tack.answers.finder.words import best_words
    from jovial_tack.files.finder_json import finder_json
    from jovial_tack.verbs.tables.find import find_table

    catalogue = own_catalogue()
    build = read_to_compute(asked.build, catalogue).build
    choices = build.choices
    if choices is None:
        raise UsageError(f"{asked.build.name}: it has no choices yet: what may change of a drive")
    engine = build.engine
    rpm = asked.rpm or (engine.idle_rpm, engine.cruise_rpm, engine.redline_rpm)
    space = space_of(build, choices, catalogue)
    answer = find(space, rpm)
    limit = asked.limit or choices.limit
    before = None if asked.json and not choices.needs else solve_again(build, None, catalogue, None)
    if choices.needs:
        # each that is told was solved whole, over all revs
        places = [one.place for one in vetted(answer, limit, before)]
    else:
        places = list(range(min(limit, answer.fitting.combination.size)))
    low = low_side(answer, np.array(places, dtype=np.int64))
    builds = [space.build_of(int(answer.fitting.combination[place])) for place in places]
    goes_on = [can_be_put_on(answer, each) for each in builds]
    sure = [how_sure(each, choices.drive, catalogue) for each in builds] if asked.sure else []
    today = how_sure(build, choices.drive, catalogue) if asked.sure else None
    if asked.json:
        show(as_json(finder_json(answer, places, low, goes_on, sure=sure, today=today)))
    else:
        best = next(vetted(answer, 1, before), None)
        said = ""
        if best is not None and before is not None:
            said = best_words(answer, best, before.results.drive(choices.drive))
        show(find_table(answer, places, low, goes_on, said, sure=sure, today=today))
    return 0 if places else 1
