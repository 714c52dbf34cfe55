"""Random plans, for laws that hold for every program: what a text can say, built as trees."""

from hypothesis import strategies as st

from geduld.language import tree

NUMBERS = st.sampled_from(["0", "3", "12.50", "0.07", "40", "1e2"])
COMMENTS = st.sampled_from(["", "# a comment", "# größer", "#"])
BEFORE = st.sampled_from([(), (), ("",), ("# above",), ("", "# one", "# two"), ("# one", "", "# two")])


def number(unit):
    return st.builds(tree.Number, NUMBERS, st.just(unit))


def lengths(depth=2):
    leaf = st.one_of(number("cm"), number("mm"), st.just(tree.Name("range")), st.just(tree.Name("near")))
    if not depth:
        return leaf
    inner = lengths(depth - 1)
    return st.one_of(
        leaf,
        st.builds(tree.Binary, st.sampled_from("+-"), inner, inner),
        st.builds(tree.Binary, st.just("*"), inner, number("")),
        st.builds(tree.Minus, inner),
        st.builds(tree.Call, st.sampled_from(["min", "max"]), st.tuples(inner, inner)),
    )


def percents(depth=1):
    leaf = st.one_of(number("%"), st.just(tree.Name("knob")), st.just(tree.Name("n")))
    if not depth:
        return leaf
    scaled = st.builds(tree.Binary, st.just("*"), lengths(1), number("%/cm"))
    return st.one_of(leaf, scaled, st.builds(tree.Binary, st.sampled_from("+-"), percents(0), percents(0)))


def times():
    return st.one_of(number("s"), number("ms"), st.builds(tree.Binary, st.just("+"), number("s"), number("ms")))


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
    )
    if not depth:
        return leaf
    inner = conditions(depth - 1)
    return st.one_of(
        leaf, st.builds(tree.Binary, st.sampled_from(["and", "or"]), inner, inner), st.builds(tree.Not, inner)
    )


def untils(depth):
    plain = st.builds(tree.Until, conditions(1), st.none() | times(), st.none() | times())
    if not depth:
        return plain
    comments = st.tuples(BEFORE, COMMENTS)
    patient = st.builds(tree.Until, conditions(1), st.none() | times(), times(), blocks(depth - 1), comments)
    return st.one_of(plain, patient)


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
    ]
    simple = [
        *actions,
        st.builds(tree.Stop, st.sampled_from(["drive", "lamp", "all"]), **marks),
        st.builds(tree.Wait, endings, **marks),
        st.builds(tree.Set, st.just("n"), percents(), **marks),
        st.builds(tree.Note, st.sampled_from(["", "a # b"]), **marks),
        st.builds(tree.Finish, st.none() | st.just("done"), **marks),
    ]
    if not depth:
        return st.one_of(simple)
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
    return st.one_of(*simple, *compound)


def blocks(depth):
    return st.builds(lambda found: tree.Block(tuple(found)), st.lists(steps(depth), min_size=1, max_size=4))


def plans(depth=2):
    near = tree.Let("near", tree.Number("40", "cm"))
    first = tree.Set("n", tree.Number("5", "%"))
    return st.builds(
        lambda title, body, comment: tree.Plan(
            title, "small", (near,), tree.Block((first, *body.steps)), (((), comment), ((), ""), ((), comment))
        ),
        st.sampled_from(["Test", "Ünïcode"]),
        blocks(depth),
        COMMENTS,
    )
