"""What can be said now: patterns of slots, written as JSGF, and words taken apart by them again.

A slot offers phrases, each with the token it stands for; a pattern is a sentence of slots with a code. The recogniser
is given the JSGF (W3C Note 5 June 2000, JSpeech Grammar Format; from memory), and what it heard is matched against the
same patterns, so that words and meaning cannot drift apart.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence

from msgspec import Struct

Phrase = tuple[str, ...]


class Slot(Struct, frozen=True):
    """Phrases that may stand in one place of a sentence, in words with a space between: phrase -> token."""

    name: str
    phrases: Mapping[str, str]
    optional: bool = False


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

    def __init__(self, patterns: Sequence[Pattern]) -> None:
        self.patterns = tuple(one for one in patterns if all(slot.phrases or slot.optional for slot in one.slots))

    def words(self) -> set[str]:
        return {word for pattern in self.patterns for slot in pattern.slots
                for phrase in slot.phrases for word in phrase.split()}

    def jsgf(self) -> str:
        """The grammar in JSGF, with one public rule."""
        rules: dict[tuple[str, ...], str] = {}
        lines, sentences = [], []
        for pattern in self.patterns:
            parts = []
            for slot in pattern.slots:
                if not slot.phrases:
                    continue
                phrases = tuple(sorted(slot.phrases))
                if phrases not in rules:
                    rules[phrases] = f"r{len(rules)}"
                    lines.append(f"<{rules[phrases]}> = {' | '.join(phrases)};")
                parts.append(f"[<{rules[phrases]}>]" if slot.optional else f"<{rules[phrases]}>")
            sentences.append(" ".join(parts))
        public = f"public <said> = {' | '.join(dict.fromkeys(sentences))};"
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
            if not _can_mean(pattern, said):
                rest.append(pattern)
                continue
            before: tuple[Slot, ...] = ()
            for n, slot in enumerate(pattern.slots):
                token = said.tokens.get(slot.name)
                # Another token; where it was said also none, where it was not said any.
                others = {phrase: other for phrase, other in slot.phrases.items() if other != token}
                apart.append(Pattern(pattern.code, (
                    *before, Slot(slot.name, others, slot.optional and token is not None), *pattern.slots[n + 1:])))
                if token is not None:
                    same = {phrase: other for phrase, other in slot.phrases.items() if other == token}
                    before = (*before, Slot(slot.name, same))
        grammars = [*(Grammar([one]) for one in apart), Grammar(rest)]
        return [grammar for grammar in grammars if grammar.patterns]

    def examples(self) -> Iterator[tuple[str, Said]]:
        """Every sentence that can be said, with what it means; many."""
        for pattern in self.patterns:
            for words, tokens in _all(pattern.slots):
                yield " ".join(words), Said(pattern.code, tokens, words)


def _can_mean(pattern: Pattern, said: Said) -> bool:
    """Whether a sentence of the pattern can mean just that."""
    names = {slot.name for slot in pattern.slots}
    return pattern.code == said.code and {*said.tokens} <= names and all(
        said.tokens[slot.name] in slot.phrases.values() if slot.name in said.tokens else slot.optional
        for slot in pattern.slots)


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
