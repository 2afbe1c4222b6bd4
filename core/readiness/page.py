"""docs/rules.md, its part on evidence, remedies and readiness: every rule on one page, for an expert to review in one sitting."""

from __future__ import annotations

from core.readiness.clues import OTHER, table
from core.readiness.rules import FACTS, READINESS_FACTS, rules
from core.readiness.weigh import CLOSE, LISTED, SHARPNESS


def _when_words(when: dict[str, list[str]]) -> str:
    return "; ".join(f"{fact}: {' or '.join(values)}" for fact, values in when.items()) or "always"


def as_markdown() -> str:
    """The page as Markdown."""
    return "\n".join([*_head(), *_evidence(), *_looks(), *_remedies(), *_readiness()])


def _head() -> list[str]:
    kinds = ", ".join(f"{rule.id} ({rule.name})" for rule in rules().kinds)
    rows = [
        f"| {fact} | {meaning} | {', '.join(values) or kinds if fact == 'kind' else ', '.join(values) or 'kinds'} |"
        for fact, (meaning, values) in FACTS.items()
    ]
    return [
        "# The rules of evidence, remedies and readiness",
        "",
        "Written by `./run format` from `core/readiness/rules.json` and `evidence.json`; change the rules there. Nothing here is a",
        "code or a standard: it is what this program proposes, with its reasons, and the consultant confirms or overrules it.",
        "",
        "## Facts",
        "",
        "| fact | meaning | values (the first when nothing is known) |",
        "|---|---|---|",
        *rows,
        "",
    ]


def _evidence() -> list[str]:
    rows = table()
    lines = [
        "## Mechanisms",
        "",
        "Every clue has a weight for every mechanism: the binary logarithm of a likelihood ratio, +1 twice as often, −1 half as often,",
        "0 where it is not named. Weights of all clues that fit are added to the prior, times "
        f"{SHARPNESS} because clues of one place say partly the same, and",
        "made into shares that sum up to one; *something else* has the weight 0 for every clue. A fact adds or takes away a bounded",
        f"weight: it never takes a mechanism out. Closer than {CLOSE:g} times to the first is *too close to tell apart*;",
        f"below {LISTED:.0%} is not listed. The weights are estimates of practice, held to the written pins of `./run pins`.",
        "",
        f"Something else: prior {rows.priors[OTHER]:+g}.",
        "",
    ]
    for mechanism in rules().mechanisms:
        lines += [
            f"### {mechanism.name}",
            "",
            f"{mechanism.how} First remedy: {mechanism.first_remedy}. Prior {rows.priors[mechanism.id]:+g}.",
            "",
            "| weight | when | because |",
            "|---:|---|---|",
        ]
        weighty = [clue for clue in rows.clues if clue.weights.get(mechanism.id)]
        for clue in sorted(weighty, key=lambda clue: -clue.weights[mechanism.id]):
            lines.append(f"| {clue.weights[mechanism.id]:+g} | {_when_words(clue.when)} | {clue.says(mechanism.id)} |")
        lines.append("")
    return lines


def _looks() -> list[str]:
    lines = [
        "## Next looks",
        "",
        "The look that tells the first two apart most is proposed: the one with the greatest total variation between their chances.",
        "Its outcome, entered, weighs what it says against the mean over all mechanisms. Chances in percent.",
        "",
        "| look | where | outcomes | chances |",
        "|---|---|---|---|",
    ]
    for look in table().looks:
        named = "; ".join(
            f"{rules().mechanism_name(mechanism)} {' / '.join(f'{one:g}' for one in chances)}"
            for mechanism, chances in look.chances.items()
        )
        outcomes = " / ".join(one.name for one in look.outcomes)
        rest = " / ".join(f"{one:g}" for one in look.rest)
        lines.append(f"| {look.does} | {_when_words(look.when)} | {outcomes} | {named}; all others {rest} |")
    return [*lines, ""]


def _remedies() -> list[str]:
    lines = ["## Remedies, in the order of the work", ""]
    for stage in rules().stages:
        lines += [
            f"### {stage.name}",
            "",
            "| remedy | for | when | what must be shown | who |",
            "|---|---|---|---|---|",
        ]
        for remedy in (r for r in rules().remedies if r.stage == stage.id):
            names = ", ".join(rules().mechanism_name(m) for m in remedy.mechanisms)
            lines.append(
                f"| {remedy.title_said.metric}{f' (school: {remedy.school})' if remedy.school else ''} | {names} "
                f"| {_when_words(remedy.when)} | {remedy.shown_by_said.metric} | {remedy.who} |"
            )
        lines.append("")
    return lines


def _readiness() -> list[str]:
    lines = [
        "## Readiness",
        "",
        "The first line that fits is the state of the element.",
        "",
        "| state | when | because |",
        "|---|---|---|",
    ]
    for rule in rules().readiness:
        lines.append(f"| {rule.state} | {_when_words(rule.when)} | {rule.because} |")
    return [*lines, "", "Facts of readiness: " + "; ".join(f"*{k}*: {v}" for k, v in READINESS_FACTS.items()) + ".", ""]
