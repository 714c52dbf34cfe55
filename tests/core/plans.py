"""Random plans, for laws that hold for every program: what a text can say, built as trees."""

from functools import cache

from hypothesis import strategies as st

from geduld.language import tree

NUMBERS = st.sampled_from(["0", "3", "12.50", "0.07", "40", "1e2"])
COMMENTS = st.sampled_from(["", "# a comment", "# größer", "#"])
BEFORE = st.sampled_from([(), (), ("",), ("# above",), ("", "# one", "# two"), ("# one", "", "# two")])


ENDS = [tree.Number("0", "cm"), tree.Number("1", "m"), tree.Number("30", "mm"), tree.Number("4", "cm")]
USES_PACE = tree.Action(
    "left", (tree.Name("pace"),), tree.Until(tree.Binary("<", tree.Name("range"), tree.Name("close")))
)


@cache
def number(unit):
    return st.builds(tree.Number, NUMBERS, st.just(unit))


@cache
def lengths(depth=2):
    leaf = st.one_of(number("cm"), number("mm"), st.just(tree.Name("range")), st.just(tree.Name("near")))
    if not depth:
        return leaf
    inner = lengths(depth - 1)
    grown = st.builds(
        tree.Binary, st.just("*"), st.sampled_from([tree.Name("clock"), tree.Name("tea")]), number("cm/s")
    )
    return st.one_of(
        leaf,
        grown,
        st.builds(tree.Call, st.sampled_from(["abs", "round"]), st.tuples(inner)),
        st.builds(tree.Call, st.just("clamp"), st.tuples(inner, inner, inner)),
        st.builds(tree.Binary, st.sampled_from("+-"), inner, inner),
        st.builds(tree.Binary, st.just("*"), inner, number("")),
        st.builds(tree.Minus, inner),
        st.builds(tree.Call, st.sampled_from(["min", "max"]), st.tuples(inner, inner)),
        st.builds(tree.Call, st.just("half"), st.tuples(inner)),
        st.builds(tree.Call, st.just("scale"), st.tuples(inner, *(st.just(end) for end in ENDS))),
    )


@cache
def percents(depth=1):
    leaf = st.one_of(number("%"), st.just(tree.Name("knob")), st.just(tree.Name("n")))
    if not depth:
        return leaf
    scaled = st.builds(tree.Binary, st.just("*"), lengths(1), number("%/cm"))
    turned = st.builds(tree.Binary, st.just("*"), angles(), number("%/deg"))
    return st.one_of(leaf, scaled, turned, st.builds(tree.Binary, st.sampled_from("+-"), percents(0), percents(0)))


@cache
def angles():
    turned = st.sampled_from([tree.Name("left.angle"), tree.Name("right.angle")])
    return st.one_of(
        turned, number("deg"), number("rev"), st.builds(tree.Binary, st.sampled_from("+-"), turned, turned)
    )


@cache
def speeds():
    return st.one_of(number("deg/s"), number("cm/s"), st.builds(tree.Minus, number("rpm")))


@cache
def measured(units):
    quantities = st.one_of(*(number(unit) for unit in units))
    return st.builds(tree.For, quantities, st.sampled_from(["", "time", "encoder"]))


@cache
def times():
    return st.one_of(number("s"), number("ms"), st.builds(tree.Binary, st.just("+"), number("s"), number("ms")))


@cache
def conditions(depth=2):
    signs = st.sampled_from(["<", "<=", ">", ">=", "=", "!="])
    leaf = st.one_of(
        st.builds(tree.Binary, signs, lengths(1), lengths(1)),
        st.builds(tree.Binary, signs, percents(0), percents(0)),
        st.builds(tree.Binary, signs, st.just(tree.Name("clock")), times()),
        st.builds(tree.Is, st.just(tree.Name("nose")), st.sampled_from(["pressed", "released", "absent"])),
        st.builds(tree.Is, st.just(tree.Name("range")), st.just("absent")),
        st.builds(tree.Between, lengths(1), lengths(0), lengths(0)),
        st.builds(tree.Near, lengths(1), lengths(0), lengths(0)),
        st.builds(tree.Is, st.just(tree.Name("nose")), st.sampled_from(["just pressed", "just released"])),
        st.builds(tree.Says, st.just(tree.Name("message")), st.sampled_from(["go", "stop"])),
        st.builds(tree.Binary, signs, st.just(tree.Name("tea")), times()),
        st.builds(tree.Binary, signs, angles(), angles()),
        st.builds(tree.Binary, signs, st.just(tree.Name("right.speed")), number("deg/s")),
        st.builds(tree.Binary, signs, st.sampled_from([tree.Name("nose.presses"), tree.Name("knob.raw")]), number("")),
    )
    if not depth:
        return leaf
    inner = conditions(depth - 1)
    return st.one_of(
        leaf, st.builds(tree.Binary, st.sampled_from(["and", "or"]), inner, inner), st.builds(tree.Not, inner)
    )


@cache
def untils(depth):
    plain = st.builds(tree.Until, conditions(1), st.none() | times(), st.none() | times())
    if not depth:
        return plain
    comments = st.tuples(BEFORE, COMMENTS)
    patient = st.builds(tree.Until, conditions(1), st.none() | times(), times(), blocks(depth - 1), comments)
    return st.one_of(plain, patient)


@cache
def steps(depth):
    marks = {"before": BEFORE, "comment": COMMENTS}
    endings = st.one_of(st.builds(tree.For, times()), untils(depth))
    one = percents().map(lambda value: (value,))
    actions = [
        st.builds(tree.Action, st.sampled_from(["left", "lamp", "drive"]), one, **marks),
        st.builds(tree.Action, st.just("drive"), st.tuples(percents(), percents()), endings, st.booleans(), **marks),
        st.builds(
            tree.Action, st.just("turn"), one, endings, st.booleans(), st.sampled_from(["left", "right"]), **marks
        ),
        st.builds(tree.Action, st.just("lamp"), st.just(()), st.none(), state=st.sampled_from(["on", "off"]), **marks),
        st.builds(tree.Action, st.just("drive"), one, measured(("cm", "deg", "rev")), st.booleans(), **marks),
        st.builds(tree.Action, st.just("left"), speeds().map(lambda v: (v,)), measured(("rev",)) | endings, **marks),
        st.builds(
            tree.Action, st.just("turn"), one, measured(("deg",)), st.booleans(), st.sampled_from(["left", "right"]),
            about=st.sampled_from(["", "centre", "left wheel", "right wheel"]), **marks,
        ),
    ]  # fmt: skip
    simple = [
        *actions,
        st.builds(tree.Stop, st.sampled_from(["drive", "lamp", "all"]), **marks),
        st.builds(tree.Stop, st.just("drive"), st.sampled_from(["braking", "coasting"]), **marks),
        st.builds(tree.StartTimer, st.just("tea"), **marks),
        st.builds(tree.Reset, st.sampled_from(["tea", "n", "left.angle", "nose.presses", "message"]), **marks),
        st.builds(tree.Send, st.sampled_from(["here", "a # b"]), **marks),
        st.builds(tree.Wait, endings, **marks),
        st.builds(tree.Set, st.just("n"), percents(), **marks),
        st.builds(tree.Note, st.sampled_from(["", "a # b"]), **marks),
        st.builds(tree.Finish, st.none() | st.just("done"), **marks),
    ]
    simple += [
        st.builds(
            tree.Action, st.sampled_from(["drive", "lamp"]), one, endings, st.booleans(), follows=st.just(True), **marks
        ),
        st.builds(
            tree.Ramp, st.sampled_from(["left", "drive"]), percents(0), percents(0), times(), st.booleans(), **marks
        ),
    ]
    if not depth:
        return st.one_of(simple)
    simple.append(st.builds(tree.Perform, st.just("dock"), st.tuples(percents(0), lengths(0)), **marks))
    inner = blocks(depth - 1)
    branch = st.builds(tree.Branch, conditions(1), inner, BEFORE, COMMENTS)
    first = st.builds(tree.Branch, conditions(1), inner)
    last = st.builds(tree.Branch, st.none(), inner, BEFORE, COMMENTS)
    looping = st.one_of(
        st.tuples(st.just(""), st.none()),
        st.tuples(st.just("times"), st.builds(tree.Number, st.sampled_from(["0", "1", "3"]))),
        st.tuples(st.sampled_from(["while", "until"]), conditions(1)),
    )
    leaving = st.builds(
        lambda body, ending: tree.Block((*body.steps, tree.If((tree.Branch(ending, tree.Block((tree.Leave(),))),)))),
        inner,
        conditions(0),
    )
    compound = [
        st.builds(lambda form, body, **kw: tree.Repeat(*form, body, **kw), looping, inner | leaving, **marks),
        st.builds(lambda f, more, e, **kw: tree.If((f, *more, *e), **kw), first, st.lists(branch, max_size=2),
                  st.lists(last, max_size=1), **marks),
    ]  # fmt: skip
    cuts = [("under", None, "12"), ("between", "12", "40"), ("over", "40", None), ("absent", None, None)]
    edge = {None: None, "12": tree.Number("12", "cm"), "40": tree.Number("40", "cm")}
    bands = st.tuples(*(st.builds(tree.Band, st.just(f), st.just(edge[a]), st.just(edge[b]), inner, BEFORE, COMMENTS)
                        for f, a, b in cuts))  # fmt: skip
    compound.append(st.builds(tree.By, lengths(1), st.none() | number("cm"), bands, **marks))
    compound.append(st.builds(tree.Do, inner, conditions(1), inner, BEFORE, COMMENTS, st.none() | times(), **marks))
    return st.one_of(*simple, *compound)


@cache
def blocks(depth):
    return st.builds(lambda found: tree.Block(tuple(found)), st.lists(steps(depth), min_size=1, max_size=4))


@cache
def aside(depth=1):
    """Blocks that command nothing but the nozzle, so that they can run beside any others."""
    marks = {"before": BEFORE, "comment": COMMENTS}
    turned = st.sampled_from([tree.Number("20", "deg"), tree.Number("90", "deg")]).map(lambda value: (value,))
    endings = st.one_of(st.builds(tree.For, times()), untils(0))
    simple = [
        st.builds(tree.Action, st.just("nozzle"), turned, st.none() | endings, **marks),
        st.builds(tree.Ramp, st.just("nozzle"), number("deg"), number("deg"), times(), **marks),
        st.builds(tree.Wait, endings, **marks),
        st.builds(tree.Wait, endings, **marks),
        st.builds(tree.Set, st.just("n"), percents(), **marks),
        st.builds(tree.Note, st.just("aside"), **marks),
        st.builds(tree.StartTimer, st.just("tea"), **marks),
    ]
    found = [*simple]
    if depth:
        inner = aside(depth - 1)
        looping = st.one_of(
            st.tuples(st.just("times"), st.just(tree.Number("3"))),
            st.tuples(st.sampled_from(["while", "until"]), conditions(1)),
        )
        found += [
            st.builds(lambda form, body, **kw: tree.Repeat(*form, body, **kw), looping, inner, **marks),
            st.builds(tree.If, st.tuples(st.builds(tree.Branch, conditions(1), inner)), **marks),
            st.builds(tree.Do, inner, conditions(1), inner, BEFORE, COMMENTS, st.none() | times(), **marks),
        ]
    return st.builds(lambda steps: tree.Block(tuple(steps)), st.lists(st.one_of(*found), min_size=1, max_size=4))


@cache
def sides():
    """Blocks in which lanes run side by side, alone, guarded, or again and again."""
    lanes = st.builds(
        lambda first, second, third: tree.Side(
            tuple(tree.Lane(f"lane{k}", block) for k, block in enumerate(b for b in (first, second, third) if b))
        ),
        blocks(1),
        aside(),
        st.none() | st.builds(lambda waits: tree.Block(tuple(waits)), st.lists(_waits(), min_size=1, max_size=3)),
    )
    one = lanes.map(lambda side: tree.Block((side,)))
    around = st.one_of(
        one,
        one,
        st.builds(
            lambda inner, guard, handler: tree.Block((tree.Do(inner, guard, handler),)), one, conditions(1), blocks(0)
        ),
        one.map(lambda inner: tree.Block((tree.Repeat("times", tree.Number("3"), inner),))),
    )
    return st.builds(
        lambda before, side, behind: tree.Block((*before.steps, *side.steps, *behind.steps)),
        blocks(0),
        around,
        blocks(0),
    )


@cache
def _waits():
    return st.one_of(
        st.builds(tree.Wait, st.one_of(st.builds(tree.For, times()), untils(0))),
        st.builds(tree.Set, st.just("n"), percents(0)),
        st.builds(tree.Note, st.just("third")),
    )


@cache
def plans(depth=2, body=None):
    near = tree.Let("near", tree.Number("40", "cm"))
    first = tree.Set("n", tree.Number("5", "%"))
    half = tree.Let("half", tree.Binary("/", tree.Name("gap"), tree.Number("2")), parameters=("gap",))
    return st.builds(
        lambda title, routine, body, comment: tree.Plan(
            title,
            "small",
            (near, half),
            tree.Block((first, tree.StartTimer("tea"), *body.steps)),
            (tree.Routine("dock", ("pace", "close"), routine, comment=comment),),
            (((), comment), ((), ""), ((), comment)),
        ),
        st.sampled_from(["Test", "Ünïcode"]),
        blocks(0).map(lambda body: tree.Block((USES_PACE, *body.steps))),
        blocks(depth) if body is None else body,
        COMMENTS,
    )
