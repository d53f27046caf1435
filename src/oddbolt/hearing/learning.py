"""A voice learned from sentences that were read aloud.

All distributions of a phone are moved together, by as much as makes what was heard likeliest, and the less the seldomer
the phone was heard; then each by itself by what is left (maximum a posteriori: J.-L. Gauvain, C.-H. Lee, IEEE Trans.
Speech and Audio Processing 2 (1994) 291-298, from memory, high; the first step is ours, for so little speech). A matrix
for all phones (maximum likelihood linear regression) brought less: docs/methods/voice.md.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence

import numpy as np
from msgspec import Struct

from oddbolt.hearing.acoustic import SILENT, STATES, AcousticModel, OwnVoice

ROUNDS = 2  # after which little changes
# Hundredths of a second: a phone, and one distribution, that was heard for so long is moved half the way.
PHONE_FRAMES, EACH_FRAMES = 15.0, 30.0
SPREAD = 3  # frames before and after that a change of sound is taken over


class Told(Struct, frozen=True):
    """A sentence that was read: cepstra (frames, 3, 13), and the words with their phones and frames from and before."""

    sound: np.ndarray
    words: list[tuple[tuple[str, ...], int, int]]


def changing(cepstra: np.ndarray) -> np.ndarray:
    """(frames, 13) to (frames, 3, 13): sound, change and the change of that, the mean taken off, as the recogniser
    makes them for `1s_c_d_dd`."""
    plain = cepstra - cepstra.mean(axis=0)
    wide = np.pad(plain, ((SPREAD, SPREAD), (0, 0)), "edge")

    def at(by: int) -> np.ndarray:
        return wide[SPREAD + by:SPREAD + by + len(plain)]

    return np.stack([plain, at(2) - at(-2), (at(3) - at(-1)) - (at(1) - at(-3))], axis=1)


def learned(model: AcousticModel, sentences: Sequence[Told]) -> Mapping[str, np.ndarray]:
    """What is added to the means of each phone for whoever read them: shape (3, 128, 13) each."""
    offsets: Mapping[str, np.ndarray] = {}
    for _ in range(ROUNDS):
        offsets = {phone: _together(model, phone, *heard)
                   for phone, heard in _heard(model, sentences, OwnVoice(offsets)).items()}
    return {phone: offsets[phone] + _each(model.means_of(phone, OwnVoice(offsets)), *heard)
            for phone, heard in _heard(model, sentences, OwnVoice(offsets)).items()}


def _together(model: AcousticModel, phone: str, much: np.ndarray, sums: np.ndarray) -> np.ndarray:
    """The same for all distributions of a phone, shape (3, 1, 13)."""
    place = model.place[phone]
    weights = 1 / model.variances[place]
    left = ((sums - much[..., None] * model.means[place]) * weights).sum(axis=1)
    return (left / ((much[..., None] * weights).sum(axis=1) + PHONE_FRAMES * weights.mean(axis=1)))[:, None, :]


def _each(means: np.ndarray, much: np.ndarray, sums: np.ndarray) -> np.ndarray:
    """What is left for each distribution, shape (3, 128, 13)."""
    return (sums - much[..., None] * means) / (much[..., None] + EACH_FRAMES)


# Of a phone: how much was heard of each distribution, shape (3, 128), and the sum of it, shape (3, 128, 13).
Gathered = tuple[np.ndarray, np.ndarray]


def _heard(model: AcousticModel, sentences: Iterable[Told], voice: OwnVoice) -> dict[str, Gathered]:
    frames: dict[str, list[tuple[np.ndarray, int]]] = {}
    shown = {phone: model.means_of(phone, voice) for phone in model.phones}
    for sentence in sentences:
        for phones, start, end in sentence.words:
            sound = sentence.sound[start:end]
            if len(sound) < STATES * len(phones):
                continue
            liked = {phone: _likelihoods(model, phone, shown[phone], sound) for phone in {*phones}}
            path = _along(np.concatenate([_of_states(model, phone, liked[phone]) for phone in phones], axis=1))
            for n, frame in zip(path, sound):
                frames.setdefault(phones[n // STATES], []).append((frame, int(n % STATES)))
    return {phone: _gathered(model, phone, shown[phone], some) for phone, some in frames.items()
            if phone not in SILENT}


def _likelihoods(model: AcousticModel, phone: str, means: np.ndarray, sound: np.ndarray) -> np.ndarray:
    """Logarithms without the constant, shape (frames, 3, 128)."""
    weights = 1 / model.variances[model.place[phone]]
    still = (means ** 2 * weights).sum(axis=2) - np.log(weights).sum(axis=2)
    squares = np.einsum("nfi,fdi->nfd", sound ** 2, weights, optimize=True)
    return np.einsum("nfi,fdi->nfd", sound, means * weights, optimize=True) - 0.5 * (squares + still)


def _of_states(model: AcousticModel, phone: str, liked: np.ndarray) -> np.ndarray:
    """Shape (frames, 3 states)."""
    first = STATES * model.place[phone]
    weighed = liked[..., None] + model.weights[None, :, :, first:first + STATES]
    most = weighed.max(axis=2, keepdims=True)
    return (most[:, :, 0] + np.log(np.exp(weighed - most).sum(axis=2))).sum(axis=1)


def _along(likelihoods: np.ndarray) -> np.ndarray:
    """The likeliest state at each frame, from the first to the last without leaving one out (Viterbi)."""
    frames, states = likelihoods.shape
    best, moved = np.full(states, -np.inf), np.zeros((frames, states), bool)
    best[0] = likelihoods[0, 0]
    for n in range(1, frames):
        before = np.concatenate([[-np.inf], best[:-1]])
        moved[n] = before > best
        best = np.maximum(best, before) + likelihoods[n]
    path = np.zeros(frames, int)
    state = states - 1
    for n in range(frames - 1, -1, -1):
        path[n] = state
        state -= int(moved[n, state])
    return path


def _gathered(model: AcousticModel, phone: str, means: np.ndarray, some: list[tuple[np.ndarray, int]]) -> Gathered:
    sound, states = np.array([frame for frame, _ in some]), np.array([state for _, state in some])
    place = model.place[phone]
    weighed = _likelihoods(model, phone, means, sound) + model.weights[:, :, STATES * place + states].transpose(2, 0, 1)
    share = np.exp(weighed - weighed.max(axis=2, keepdims=True))
    share /= share.sum(axis=2, keepdims=True)
    return share.sum(axis=0), np.einsum("nfd,nfi->fdi", share, sound, optimize=True)
