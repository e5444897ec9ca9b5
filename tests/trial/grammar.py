"""Puts scripts together at random from a grammar: the expressions and statements of one engine, in any order and depth.

A rule is a list of templates; `{name}` in one stands for any template of the rule of that name, `{#}` for a number that is new
each time. Rules of views know the columns of the tables, those of routines the variables. The same seed gives the same script.
"""

import random
import re
import tomllib
from collections import defaultdict
from pathlib import Path
from typing import Any, Final

GRAMMARS: Final = Path(__file__).parents[1] / "data" / "grammars"
_HOLE: Final = re.compile(r"\{(\w+)\}")


class Grammar:
    def __init__(self, engine: str, seed: int) -> None:
        with (GRAMMARS / f"{engine}.toml").open("rb") as file:
            self.data: dict[str, Any] = tomllib.load(file)
        self.chance = random.Random(seed)
        self.numbers = 0

    def script(self, views: int, routines: int = 0, depth: int = 2) -> str:
        """Return the tables, so many views and so many routines."""
        objects = self.data["objects"]
        pieces = [self.data["tables"].strip()]
        rules = self._rules("in_views", {"view": objects["view"]})
        pieces += [self._named(objects["form"], rules, f"v{number}", depth + 1) for number in range(views)]
        if routines:
            pieces.append(objects.get("before_routines", ""))
            rules = self._rules("in_routines", {"routine": objects["routine"]})
            pieces += [self._named("{routine}", rules, f"r{number}", depth + 3) for number in range(routines)]
        return "\n".join(pieces) + "\n"

    def _rules(self, section: str, more: dict[str, list[str]]) -> dict[str, list[str]]:
        rules = defaultdict(list, more)
        for part in (self.data["anywhere"], self.data[section]):
            for name, templates in part.items():
                rules[name] = rules[name] + templates
        return rules

    def _named(self, form: str, rules: dict[str, list[str]], name: str, depth: int) -> str:
        return self._fill(form, {**rules, "object": [name]}, depth)

    def _fill(self, template: str, rules: dict[str, list[str]], depth: int) -> str:
        if "{#}" in template:
            self.numbers += 1
            template = template.replace("{#}", str(self.numbers))
        return _HOLE.sub(lambda hole: self._choose(rules[hole[1]], rules, depth - 1), template)

    def _choose(self, templates: list[str], rules: dict[str, list[str]], depth: int) -> str:
        """Fill one of the templates; at the end of the depth, one that holds the least."""
        if depth <= 0:
            fewest = min(len(_HOLE.findall(template)) for template in templates)
            templates = [template for template in templates if len(_HOLE.findall(template)) == fewest]
        return self._fill(self.chance.choice(templates), rules, depth)
