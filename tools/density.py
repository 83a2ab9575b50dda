"""Count how densely the code is written: tools/density.py [--list]

Printed for src: functions with more than ten branches, conditional expressions, comprehensions, their
conditions and and/or counted too; comment lines, and lines of docstrings; places where the formatter
is told to look away.
--list names the functions and the places.
"""

from __future__ import annotations

import argparse
import ast
import tokenize
from collections.abc import Iterator
from pathlib import Path

SRC = Path(__file__).parents[1] / "src"
MOST_BRANCHES = 10
_FUNCTIONS = (ast.FunctionDef, ast.AsyncFunctionDef)


def branches(function: ast.AST) -> int:
    """Ways through a function's own lines; functions within it count by themselves."""
    count, waiting = 1, list(ast.iter_child_nodes(function))
    while waiting:
        node = waiting.pop()
        if isinstance(node, _FUNCTIONS):
            continue
        match node:
            case (
                ast.If()
                | ast.For()
                | ast.While()
                | ast.IfExp()
                | ast.ExceptHandler()
                | ast.match_case()
            ):
                count += 1
            case ast.comprehension():
                count += 1 + len(node.ifs)
            case ast.BoolOp():
                count += len(node.values) - 1
        waiting += ast.iter_child_nodes(node)
    return count


def functions(path: Path) -> Iterator[tuple[str, int]]:
    """Every function of a file, with its ways."""
    for node in ast.walk(ast.parse(path.read_text("utf-8"))):
        if isinstance(node, _FUNCTIONS):
            yield f"{path.relative_to(SRC)}:{node.lineno} {node.name}", branches(node)


def comments(path: Path) -> tuple[int, list[str]]:
    """Lines with a comment that is words, and the places where the formatter looks away."""
    said, skips = 0, []
    with path.open("rb") as file:
        for token in tokenize.tokenize(file.readline):
            if token.type != tokenize.COMMENT:
                continue
            if "fmt: skip" in token.string or "fmt: off" in token.string:
                skips.append(f"{path.relative_to(SRC)}:{token.start[0]}")
            elif not token.string.startswith(("# type:", "# noqa")):
                said += 1
    return said, skips


def docstrings(path: Path) -> int:
    """Lines of docstrings of a file."""
    documented = (ast.Module, ast.ClassDef, *_FUNCTIONS)
    said = 0
    for node in ast.walk(ast.parse(path.read_text("utf-8"))):
        if isinstance(node, documented) and ast.get_docstring(node, clean=False) is not None:
            text = node.body[0]
            said += (text.end_lineno or text.lineno) - text.lineno + 1
    return said


def main() -> None:
    """Print the counts."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--list", action="store_true")
    asked = parser.parse_args()
    paths = sorted(SRC.rglob("*.py"))
    every = [found for path in paths for found in functions(path)]
    dense = [(count, name) for name, count in every if count > MOST_BRANCHES]
    lines = sum(bool(line.strip()) for path in paths for line in path.open(encoding="utf-8"))
    each = [comments(path) for path in paths]
    said, skips = sum(count for count, _ in each), [place for _, places in each for place in places]
    share = 100 * len(dense) / len(every)
    print(
        f"more than {MOST_BRANCHES} branches: {len(dense)} of {len(every)} functions, {share:.1f} %"
    )
    told = sum(docstrings(path) for path in paths)
    print(f"comments: {said} on {lines} lines, {100 * said / lines:.1f} %")
    print(f"docstrings: {told} of them, {100 * told / lines:.1f} %")
    print(f"formatter told to look away: {len(skips)} places")
    if asked.list:
        for count, name in sorted(dense, reverse=True):
            print(f"{count:4} {name}")
        print(*skips, sep="\n")


if __name__ == "__main__":
    main()
