"""Figures for people, without false digits."""

from __future__ import annotations

from oddbolt.words.translate import tr

MINUS = "\u2212"


def duration_text(seconds: float) -> str:
    """A time without false digits: "12 s", "3 min 10", "1 h 05"."""
    if seconds < 10:
        return tr("{0:.1f} s").format(seconds)
    if seconds < 60:
        return tr("{0:.0f} s").format(seconds)
    minutes, rest = divmod(round(seconds), 60)
    if minutes < 60:
        return tr("{0} min {1:02d}").format(minutes, rest) if rest else tr("{0} min").format(minutes)
    return tr("{0} h {1:02d}").format(minutes // 60, minutes % 60)


def span_text(from_s: float, to_s: float | None) -> str:
    """A time, or from and to."""
    if not to_s or to_s <= from_s:
        return duration_text(from_s)
    return tr("{0} to {1}").format(duration_text(from_s), duration_text(to_s))


def interval_text(seconds: float, low_s: float, high_s: float) -> str:
    """A time with the limits between which it lies nine times of ten, in minutes where they are minutes apart; alone
    where they are as close as it is said."""
    if low_s >= 60 and high_s - low_s >= 60:
        return tr("{0} ({1:.0f} to {2:.0f} min)").format(duration_text(seconds), low_s / 60, high_s / 60)
    usual, low, high = duration_text(seconds), duration_text(low_s), duration_text(high_s)
    return usual if low == usual == high else tr("{0} ({1} to {2})").format(usual, low, high)


def clock_text(seconds: float) -> str:
    """A time of the pass: "12:05"."""
    minutes, rest = divmod(round(seconds), 60)
    return f"{minutes}:{rest:02d}"


def odds_text(odds: float) -> str:
    """Odds without false digits: "94 %", "less than 1 %"."""
    if odds < 0.01:
        return tr("less than 1 %")
    return tr("{0} %").format(min(99, round(odds * 100))) if odds < 0.995 else tr("over 99 %")


def number_text(number: int) -> str:
    """A count that may be huge, without false digits."""
    if number < 10_000:
        return str(number)
    power = len(str(number)) - 1
    if power >= 300:
        return tr("more than 10^{0}").format(power)
    return tr("about {0:.1f} x 10^{1}").format(number / 10 ** power, power)


def newton_text(torque_nm: float) -> str:
    """A torque in the unit it is read in: below one newton-metre in newton-centimetres."""
    return f"{torque_nm * 100:.2g} N·cm" if torque_nm < 1 else f"{torque_nm:.3g} N·m"


def figure_of(value: object) -> str:
    """A figure, or what stands in its place, as it would be typed."""
    return f"{value:g}" if isinstance(value, (int, float)) and not isinstance(value, bool) else str(value)


def points_text(points: tuple[float, float]) -> str:
    """Points, or the range of them."""
    low, high = (f"{value:.2f}".rstrip("0").rstrip(".") for value in points)
    return low if low == high else tr("{0} to {1}").format(low, high)


def signed_text(number: int) -> str:
    """A difference with its sign."""
    return f"{number:+d}".replace("-", MINUS)


MARKED = {"estimated": "\u2248 ", "guessed": "\u25cc "}  # before a figure that is less than measured or told


def marked_text(text: str, known: str) -> str:
    """A figure with the sign of how it is known."""
    return MARKED.get(known, "") + text if text else text


def steps_text(steps: int) -> str:
    return tr("1 step") if steps == 1 else tr("{0} steps").format(steps)
