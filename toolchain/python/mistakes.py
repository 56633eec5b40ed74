"""What can be told of a program without running it: calls without parentheses, what is never done,
what begins anew, what a pin does not know, and readings that are compared with what they never are."""

import ast


def says(said, option, node):
    """What is told of a line without running it: which words, and by which option they are known."""
    return {"said": said, "option": option, "line": node.lineno}


def endless(n):
    """Whether a loop goes on for ever."""
    leaves = any(isinstance(x, (ast.Break, ast.Return)) for x in within(n.body))
    return isinstance(n, ast.While) and isinstance(n.test, ast.Constant) and bool(n.test.value) and not leaves


def within(statements):
    """All that is in statements, but for what loops, functions and classes in them have of their own."""
    for s in statements:
        yield s
        if isinstance(s, (ast.FunctionDef, ast.ClassDef, ast.Lambda)):
            continue
        for x in ast.iter_child_nodes(s):
            yield from within([x])


def bound(tree, makers):
    """The names that are given to what some calls make, and to nothing else."""
    names, others = set(), set()
    for n in ast.walk(tree):
        if isinstance(n, ast.Assign) and len(n.targets) == 1 and isinstance(n.targets[0], ast.Name):
            call = n.value
            made = isinstance(call, ast.Call) and (getattr(call.func, "id", "") in makers or getattr(call.func, "attr", "") in makers)
            (names if made else others).add(n.targets[0].id)
    return names - others


def always(tree, language):
    """Calls without their parentheses where something is asked: they are always so."""
    pins = bound(tree, {"Pin"})
    functions = {n.name for n in ast.walk(tree) if isinstance(n, ast.FunctionDef) and not n.decorator_list}
    asked = []
    for n in ast.walk(tree):
        if isinstance(n, (ast.If, ast.While, ast.IfExp)):
            asked.append(n.test)
        elif isinstance(n, ast.BoolOp):
            asked += n.values
        elif isinstance(n, ast.UnaryOp) and isinstance(n.op, ast.Not):
            asked.append(n.operand)
        elif isinstance(n, ast.Compare):
            asked += [n.left, *n.comparators]
    for x in asked:
        pin = isinstance(x, ast.Attribute) and x.attr == "value" and getattr(x.value, "id", "") in pins
        if pin and language == "python-machine" or isinstance(x, ast.Name) and x.id in functions:
            yield says("always so: " + ast.unparse(x), "always-so", x)


def behind(tree, _):
    """What stands behind a loop that never ends, and is never done."""
    for n in ast.walk(tree):
        for field in ("body", "orelse"):
            list_ = getattr(n, field, None)
            if not isinstance(list_, list):
                continue
            for loop, after in zip(list_, list_[1:]):
                if isinstance(loop, ast.While) and endless(loop) and not isinstance(after, (ast.FunctionDef, ast.ClassDef)):
                    yield says(f"never done, behind line {loop.lineno}", "behind-endless", after)


def number(n):
    """A number that is written as it is; nothing where it is none."""
    if isinstance(n, ast.UnaryOp) and isinstance(n.op, ast.USub):
        x = number(n.operand)
        return None if x is None else -x
    return n.value if isinstance(n, ast.Constant) and isinstance(n.value, (int, float)) else None


def anew(tree, _):
    """Variables of a loop that are to count over its rounds, or to go over, and begin anew in each."""
    for loop in ast.walk(tree):
        if not isinstance(loop, ast.While) or not endless(loop):
            continue
        all_ = list(within(loop.body))
        for first in loop.body:
            if not (isinstance(first, ast.Assign) and len(first.targets) == 1 and isinstance(first.targets[0], ast.Name) and number(first.value) is not None):
                continue
            name, begins = first.targets[0].id, number(first.value)
            steps, flips, other, repeated = 0, 0, False, False
            for n in all_:
                if isinstance(n, (ast.For, ast.While)) and any(isinstance(x, (ast.AugAssign, ast.Assign)) and name in {getattr(t, "id", "") for t in getattr(x, "targets", [getattr(x, "target", None)])} for x in within(n.body)):
                    repeated = True
                if n is first:
                    continue
                if isinstance(n, ast.AugAssign) and getattr(n.target, "id", "") == name:
                    by = number(n.value)
                    other |= by is None or not isinstance(n.op, (ast.Add, ast.Sub))
                    steps += abs(by or 0)
                elif isinstance(n, ast.Assign) and any(getattr(t, "id", "") == name for t in n.targets):
                    v = n.value
                    if isinstance(v, ast.UnaryOp) and isinstance(v.op, ast.Not) and getattr(v.operand, "id", "") == name:
                        flips += 1
                    elif isinstance(v, ast.BinOp) and isinstance(v.op, (ast.Add, ast.Sub)) and getattr(v.left, "id", "") == name and number(v.right) is not None:
                        steps += abs(number(v.right))
                    else:
                        other = True
            far = [abs(number(c) - begins) for n in all_ if isinstance(n, ast.Compare) and getattr(n.left, "id", "") == name for c in n.comparators if number(c) is not None]
            if not other and not repeated and (flips and not steps or steps and far and max(far) > steps):
                yield says(f"'{name}' begins anew in the loop", "begins-anew", first)


def levels(tree, _):
    """Writes of more than two levels to a pin that has two."""
    pins = bound(tree, {"Pin"})
    counters = {n.target.id for n in ast.walk(tree) if isinstance(n, ast.AugAssign) and isinstance(n.target, ast.Name)}
    measured = {n.targets[0].id for n in ast.walk(tree) if isinstance(n, ast.Assign) and len(n.targets) == 1 and isinstance(n.targets[0], ast.Name)
                and isinstance(n.value, ast.Call) and getattr(n.value.func, "attr", "") == "read_u16"}
    for n in ast.walk(tree):
        if not (isinstance(n, ast.Call) and isinstance(n.func, ast.Attribute) and n.func.attr == "value" and getattr(n.func.value, "id", "") in pins and len(n.args) == 1):
            continue
        x = n.args[0]
        v = number(x)
        if v is not None and v not in (0, 1) or isinstance(x, ast.Name) and x.id in counters | measured or isinstance(x, ast.Call) and getattr(x.func, "attr", "") == "read_u16":
            yield says("value of more than two levels", "more-than-a-level", n)


def volts(tree, _):
    """Readings that are compared with volts, or with what they never come to."""
    reads = lambda x: isinstance(x, ast.Call) and getattr(x.func, "attr", "") == "read_u16"
    put = {}
    for n in ast.walk(tree):
        if isinstance(n, (ast.Assign, ast.AugAssign)):
            for t in n.targets if isinstance(n, ast.Assign) else [n.target]:
                if isinstance(t, ast.Name):
                    put.setdefault(t.id, []).append(isinstance(n, ast.Assign) and reads(n.value))
    raw = {name for name, all_ in put.items() if all(all_)}
    for n in ast.walk(tree):
        if not isinstance(n, ast.Compare):
            continue
        list_ = [n.left, *n.comparators]
        if not any(reads(x) or isinstance(x, ast.Name) and x.id in raw for x in list_):
            continue
        for c in list_:
            v = number(c)
            if isinstance(v, float) and v != int(v) and 0 < v < 5.5:
                yield says(f"a reading of 16 bits is compared with volts: {v:g}", "compared-with-volts", n)
            elif v is not None and v > 65535:
                yield says(f"a reading of 16 bits is compared with {v:g}", "beyond-the-scale", n)


def found(tree, language):
    """All that is found in a program."""
    return [x for find in (always, behind, anew, levels, volts) for x in find(tree, language)]
