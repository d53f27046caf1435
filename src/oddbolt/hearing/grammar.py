"""What can be said now: patterns of slots, written as JSGF, and words taken apart by them again.

A slot offers phrases, each with the token it stands for; a pattern is a sentence of slots with a code. The recogniser
is given the JSGF (W3C Note 5 June 2000, JSpeech Grammar Format; from memory), and what it heard is matched against the
same patterns, so that words and meaning cannot drift apart.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence

from msgspec import Struct

Phrase = tuple[str, ...]
RARE = 0.2  # how much a rare phrase weighs beside the others; common practice, no source
SELDOM = 0.15  # how often what is optional is said
# A word that nobody can say, in place of what was taken out; the <VOID> of JSGF would take all that it stands beside
# along. Whoever recognises has to be told it.
NOTHING = "nothing-at-all"


class Slot(Struct, frozen=True):
    """Phrases that may stand in one place of a sentence, in words with a space between: phrase -> token.

    `rare` are phrases that are seldom said, and an optional slot is seldom said at all: they weigh less. `out` are the
    phrases that were taken out, and `is_said` whether leaving it out was: they keep their weight, so that a sentence
    weighs the same in every part of a grammar.
    """

    name: str
    phrases: Mapping[str, str]
    optional: bool = False
    rare: frozenset[str] = frozenset()
    out: frozenset[str] = frozenset()
    is_said: bool = False

    def only(self, fits: Callable[[str | None], bool]) -> Slot:
        """With the phrases whose token fits; left out where no token fits too."""
        kept = {phrase: token for phrase, token in self.phrases.items() if fits(token)}
        return Slot(self.name, kept, self.optional and fits(None), self.rare,
                    self.out | frozenset(self.phrases) - frozenset(kept), self.is_said or (
                        self.optional and not fits(None)))


class Pattern(Struct, frozen=True):
    """A sentence that can be said: what it means is `code`, with the tokens of its slots by their names."""

    code: str
    slots: tuple[Slot, ...]


class Said(Struct, frozen=True):
    """Words taken apart: the code of the pattern, and a token for each slot that was said."""

    code: str
    tokens: Mapping[str, str]
    words: Phrase


class Grammar:
    """Patterns that can be said now. Patterns with an empty slot can not be said and are left out."""

    def __init__(self, patterns: Sequence[Pattern], of: int = 0) -> None:
        """`of`: so many patterns there were, where this is a part of a grammar."""
        self.of = of
        self.patterns = tuple(one for one in patterns if all(slot.phrases or slot.optional for slot in one.slots))

    def words(self) -> set[str]:
        return {word for pattern in self.patterns for slot in pattern.slots
                for phrase in slot.phrases for word in phrase.split()}

    def jsgf(self) -> str:
        """The grammar in JSGF, with one public rule."""
        rules: dict[str, str] = {}
        lines, sentences = [], []
        for pattern in self.patterns:
            parts = []
            for slot in pattern.slots:
                if not slot.phrases and not slot.out:
                    continue
                choices = _choices(slot)
                if choices not in rules:
                    rules[choices] = f"r{len(rules)}"
                    lines.append(f"<{rules[choices]}> = {choices};")
                parts.append(f"<{rules[choices]}>")
            sentences.append(" ".join(parts))
        every = [f"/1/ {sentence}" for sentence in dict.fromkeys(sentences)]
        if self.of > len(every):
            every.append(f"/{self.of - len(every)}/ {NOTHING}")
        public = f"public <said> = {' | '.join(every)};"
        return "\n".join(("#JSGF V1.0;", "grammar bench;", *lines, public, ""))

    def understand(self, words: Sequence[str]) -> Said | None:
        """The first pattern that all of the words fit; None where none does."""
        said = tuple(words)
        for pattern in self.patterns:
            for tokens in _fits(pattern.slots, said):
                return Said(pattern.code, tokens, said)
        return None

    def without(self, said: Said) -> list[Grammar]:
        """All that means something else: in each place of the sentence another token, with whatever may follow. One
        grammar for each place, and one for the other patterns: searched together, a beginning that is right would push
        all others out of the beam, and then end in nothing."""
        apart, rest = [], []
        for pattern in self.patterns:
            names = {slot.name for slot in pattern.slots}
            if pattern.code != said.code or not {*said.tokens} <= names or any(
                    not slot.optional and slot.name not in said.tokens for slot in pattern.slots):
                rest.append(pattern)
                continue
            before: tuple[Slot, ...] = ()
            for n, slot in enumerate(pattern.slots):
                token = said.tokens.get(slot.name)
                apart.append(Pattern(pattern.code, (*before, slot.only(lambda other, token=token: other != token),
                                                    *pattern.slots[n + 1:])))
                before = (*before, slot.only(lambda other, token=token: other == token))
        of = max(self.of, len(self.patterns))
        grammars = [*(Grammar([one], of) for one in apart), Grammar(rest, of)]
        return [grammar for grammar in grammars if grammar.patterns]

    def examples(self) -> Iterator[tuple[str, Said]]:
        """Every sentence that can be said, with what it means; many."""
        for pattern in self.patterns:
            for words, tokens in _all(pattern.slots):
                yield " ".join(words), Said(pattern.code, tokens, words)


def _choices(slot: Slot) -> str:
    """The phrases of a slot as alternatives with their weights; what was taken out as something that cannot be said."""
    def weighed(phrase: str) -> str:
        return f"/{RARE if phrase in slot.rare else 1}/ {NOTHING if phrase in slot.out else phrase}"

    found = " | ".join(map(weighed, sorted({*slot.phrases, *slot.out})))
    if not slot.optional and not slot.is_said:
        return found
    return f"/{1 - SELDOM}/ {NOTHING if slot.is_said else '<NULL>'} | /{SELDOM}/ ({found})"


def _fits(slots: tuple[Slot, ...], words: Phrase) -> Iterator[dict[str, str]]:
    if not slots:
        if not words:
            yield {}
        return
    first, rest = slots[0], slots[1:]
    for length in range(len(words), 0, -1):
        token = first.phrases.get(" ".join(words[:length]))
        if token is not None:
            for tokens in _fits(rest, words[length:]):
                yield {first.name: token, **tokens}
    if first.optional:
        yield from _fits(rest, words)


def _all(slots: tuple[Slot, ...]) -> Iterator[tuple[Phrase, dict[str, str]]]:
    if not slots:
        yield (), {}
        return
    for words, tokens in _all(slots[1:]):
        if slots[0].optional:
            yield words, tokens
        for phrase, token in slots[0].phrases.items():
            yield (*phrase.split(), *words), {slots[0].name: token, **tokens}
