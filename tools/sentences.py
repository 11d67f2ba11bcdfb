"""List every sentence Icepick can say, and what of it is not in the trade's words: `.venv/bin/python tools/sentences.py`.

With `--all` every sentence is printed, to be read once against the glossary. Sentences are the texts in the core's code
and in the screens' templates; what a docstring or a comment says is for developers and is left out.
"""

from __future__ import annotations

import ast
import re
import sys
from collections.abc import Iterator
from pathlib import Path

ROOT = Path(__file__).parents[1]
CORE = ROOT / "src/icepick/core"
SCREENS = ROOT / "frontend/src"

INSTEAD = {
    r"\b(working|idle|indoor|outdoor|each|the|a|one) meters?\b(?! the airflow)": "metering device",
    r"\bgo(es|ing)? round\b": "bypass",
    r"\bturn(s|ed)?( it| the unit)? round\b": "switch mode",
    r"\bfreely\b": "open",
    r"\bmend": "repair",
    r"\bprove dead\b": "verify zero voltage",
    r"\b(is|are) well\b": "normal, sound",
    r"\bmakers?\b(?!s)": "manufacturer",
    r"\bmaker['’]s\b": "manufacturer's",
    r"\bcentre\b|\bcolours?\b|\bbehaviou?r\b": "American spelling",
    r"\bstuck shut\b": "stuck closed",
    r"\bthermostatic valve\b": "TXV",
    r"\belectric valve\b": "EEV",
    r"(?<!pilot )\bcapillar(y|ies)\b": "cap tube",
    r"\bconvention\b(?!\.)": "O/B setting",
    r"\btwo-way (filter )?drier\b": "bi-flow filter drier",
    r"\busual are\b": "normal is about",
    r"\bopen coil\b": "open winding",
    r"\bas it should be\b(?! in defrost)": "which is normal",
    r"\bair in the circuit\b|\banother gas\b|\bforeign gas\b": "noncondensables",
    r"!": "no exclamation marks",
}
"""What the trade does not say, and what it says instead. [common practice]"""


def _strings(tree: ast.Module) -> Iterator[tuple[int, str]]:
    """Texts of a module that are not docstrings; of one with figures in it, all its words."""
    bare = {
        id(node.value)
        for node in ast.walk(tree)
        if isinstance(node, ast.Expr) and isinstance(node.value, ast.Constant)
    }
    inside: set[int] = set()
    for node in ast.walk(tree):
        if isinstance(node, ast.JoinedStr):
            parts = [v.value if isinstance(v, ast.Constant) else "…" for v in node.values]
            inside |= {id(v) for v in node.values}
            yield node.lineno, "".join(str(part) for part in parts)
    for node in ast.walk(tree):
        known = id(node) in bare or id(node) in inside
        if isinstance(node, ast.Constant) and isinstance(node.value, str) and not known:
            yield node.lineno, node.value


def of_the_core() -> Iterator[tuple[str, str]]:
    """Every sentence of the core, with its place."""
    for path in sorted(CORE.rglob("*.py")):
        for line, text in _strings(ast.parse(path.read_text("utf-8"))):
            if " " in text.strip() and re.search(r"[a-z]{3}", text):
                yield f"{path.relative_to(ROOT)}:{line}", text


def of_the_screens() -> Iterator[tuple[str, str]]:
    """Every piece of text in the screens' templates, with its place."""
    for path in sorted(SCREENS.rglob("*.vue")):
        template = path.read_text("utf-8").partition("<template>")[2].rpartition("</template>")[0]
        template = re.sub(r"<!--.*?-->", "", template, flags=re.DOTALL)
        texts = re.findall(r">([^<>]+)<", template)
        texts += re.findall(r'\b(?:aria-label|title|placeholder|label)="([^"]+)"', template)
        texts += re.findall(r"[`'“]([^`'”{}<>]*[a-z]{3} [^`'”{}<>]*)[`'”]", template)
        for text in texts:
            if re.search(r"[a-z]{3}", text):
                yield str(path.relative_to(ROOT)), " ".join(text.split())


def amiss() -> list[str]:
    """What is not said in the trade's words: place, words found, words to use."""
    found = []
    for place, text in (*of_the_core(), *of_the_screens()):
        for pattern, instead in INSTEAD.items():
            if pattern == "!" and ("=" in text or place.endswith(".vue")):
                continue
            for match in re.finditer(pattern, text, re.IGNORECASE):
                found.append(f"{place}: “{match.group()}” → {instead}: {text[:100]}")
    return found


def main() -> None:
    if "--all" in sys.argv:
        for place, text in (*of_the_core(), *of_the_screens()):
            print(f"{place}: {text}")
    print("\n".join(amiss()))


if __name__ == "__main__":
    main()
