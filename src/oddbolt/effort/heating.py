"""The heating guide: how long a cover is to be warmed until the bond under it lets go, and how warm the cell then is.

A plane wall of layers, warmed on one face through a contact of h W/(m2 K), nothing lost on the other; conduction by
Crank and Nicolson's scheme on a grid with nodes on the borders of the layers. Assumptions: a source of one
temperature, no latent heat, no heat going aside, properties of 25 C. A guide, never a permission.

References:
[1] J. Crank and P. Nicolson, Proc. Cambridge Phil. Soc. 43 (1947) 50-67.
[2] F. P. Incropera and D. P. DeWitt, Fundamentals of Heat and Mass Transfer, section 5.5 (the plane wall, one-term
    coefficients; the lumped limit Bi <= 0.1), from memory.
[3] ISO 13732-1, burn thresholds; from memory.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from typing import Any

from msgspec import Struct

from oddbolt.catalog.tables import table
from oddbolt.model.refusal import Refusal

CELLS = 40  # grid cells of a layer
STEP_S = 0.05
LUMPED_BIOT = 0.1
THICKEST_MM = 100.0


class Layer(Struct, frozen=True, kw_only=True):
    """A layer of the wall, from the warm side inwards."""

    material: str
    thickness_mm: float


class Moment(Struct, frozen=True, kw_only=True):
    """Temperatures in C at the borders of the layers: the warm face, each border, the far face."""

    time_s: float
    borders_c: tuple[float, ...]


class Guide(Struct, frozen=True, kw_only=True):
    """When the bond reaches its temperature, at the usual contact and at the best and poorest; None where it does not
    within half an hour. `usual` is how warm all is then."""

    time_s: float | None
    earliest_s: float | None
    latest_s: float | None
    usual: Moment
    cell_c: float | None  # the warmest place of the cell at that time, where the wall has one
    cell_limit_c: float
    touch_c: float  # what a finger feels of the cover
    burn_c: float  # least temperature at which a minute's touch of the cover burns

    @property
    def is_too_hot_for_cell(self) -> bool:
        return self.cell_c is not None and self.cell_c > self.cell_limit_c


def material(id_: str) -> dict[str, Any]:
    """The row of a material. Raises Refusal for one that is not known."""
    rows = {row["id"]: row for row in table("heating.toml")["material"]}
    if id_ not in rows:
        raise Refusal("material", "unknown-material", text=id_[:40], known=list(rows))
    return rows[id_]


def warmed(layers: Sequence[Layer], source_c: float, h_w_m2k: float, start_c: float, *,
           step_s: float = STEP_S, cells: int = CELLS) -> Iterator[Moment]:
    """The wall as time goes on, without end: at each step the temperatures at the borders [1]."""
    import numpy as np
    from scipy.linalg import solve_banded

    _check(layers)
    rows = [material(layer.material) for layer in layers]
    capacity, conductance = np.zeros(1), np.zeros(0)
    borders = [0]
    for layer, row in zip(layers, rows):
        width = layer.thickness_mm / 1000 / cells
        share = row["rho_kg_m3"] * row["c_j_kgk"] * width / 2
        capacity[-1] += share
        capacity = np.concatenate([capacity, np.full(cells, 2 * share)])
        capacity[-1] = share
        conductance = np.concatenate([conductance, np.full(cells, row["k_w_mk"] / width)])
        borders.append(borders[-1] + cells)
    diagonal = np.zeros(len(capacity))
    diagonal[:-1] += conductance
    diagonal[1:] += conductance
    diagonal[0] += h_w_m2k
    inflow = np.zeros(len(capacity))
    inflow[0] = h_w_m2k * source_c

    def matrix(share: float, length_s: float) -> Any:
        bands = np.zeros((3, len(capacity)))
        bands[0, 1:] = bands[2, :-1] = -share * conductance
        bands[1] = capacity / length_s + share * diagonal
        return bands

    def flow(temperatures: Any) -> Any:
        out = diagonal * temperatures
        out[:-1] -= conductance * temperatures[1:]
        out[1:] -= conductance * temperatures[:-1]
        return out

    now, half = np.full(len(capacity), float(start_c)), matrix(0.5, step_s)
    yield Moment(time_s=0.0, borders_c=tuple(float(now[n]) for n in borders))
    time_s, first = 0.0, matrix(1.0, step_s / 4)
    while True:
        if not time_s:  # four damped quarter steps: the sudden start would ring in the scheme of halves
            for _ in range(4):
                now = solve_banded((1, 1), first, capacity / (step_s / 4) * now + inflow)
        else:
            now = solve_banded((1, 1), half, capacity / step_s * now - 0.5 * flow(now) + inflow)
        time_s += step_s
        yield Moment(time_s=round(time_s, 9), borders_c=tuple(float(now[n]) for n in borders))


def _check(layers: Sequence[Layer]) -> None:
    if not layers:
        raise Refusal("layers", "no-layers")
    for n, layer in enumerate(layers):
        if not 0 < layer.thickness_mm <= THICKEST_MM:
            raise Refusal(f"layers[{n}].thickness_mm", "length-out-of-range", value=layer.thickness_mm,
                          most=THICKEST_MM)


def reached(layers: Sequence[Layer], border: int, temperature_c: float, source_c: float, h_w_m2k: float,
            start_c: float, longest_s: float) -> Moment | None:
    """When a border reaches a temperature, between steps by a straight line, and how warm all is then."""
    if temperature_c >= source_c:
        return None
    before = None
    for moment in warmed(layers, source_c, h_w_m2k, start_c):
        if moment.borders_c[border] >= temperature_c:
            if before is None:
                return moment
            a, b = before.borders_c[border], moment.borders_c[border]
            share = (temperature_c - a) / (b - a)
            return Moment(time_s=before.time_s + share * (moment.time_s - before.time_s), borders_c=tuple(
                x + share * (y - x) for x, y in zip(before.borders_c, moment.borders_c)))
        if moment.time_s >= longest_s:
            return None
        before = moment
    raise AssertionError("it goes on without end")


def guide(layers: Sequence[Layer], source: str, *, source_c: float | None = None, release_c: float | None = None,
          start_c: float | None = None) -> Guide:
    """The guide for a cover (the first layer), its bond (the border below it) and what lies behind. Raises Refusal for
    an unknown material or source, a source hotter than the guide goes, or figures that cannot be."""
    usual = table("heating.toml")["usual"]
    source_c, release_c, start_c = (usual[name] if given is None else given for name, given in (
        ("source_c", source_c), ("release_c", release_c), ("start_c", start_c)))
    ways = {row["id"]: row for row in table("heating.toml")["from"]}
    if source not in ways:
        raise Refusal("source", "unknown-material", text=source[:40], known=list(ways))
    if not start_c < release_c < source_c <= usual["most_c"]:
        raise Refusal("temperature", "heating-order", start=start_c, release=release_c, source=source_c,
                      most=usual["most_c"])
    least, middle, most = ways[source]["h_w_m2k"]
    poorest, at_usual, best = (reached(layers, 1, release_c, source_c, h, start_c, usual["longest_s"])
                               for h in (least, middle, most))
    then = at_usual or next(m for m in warmed(layers, source_c, middle, start_c, step_s=1.0)
                            if m.time_s >= usual["longest_s"])
    cell = next((n for n, layer in enumerate(layers) if layer.material == "cell"), None)
    cover = material(layers[0].material)
    return Guide(time_s=at_usual.time_s if at_usual else None, earliest_s=best.time_s if best else None,
                 latest_s=poorest.time_s if poorest else None, usual=then,
                 cell_c=None if cell is None else max(then.borders_c[cell:cell + 2]),
                 cell_limit_c=table("heating.toml")["cell_limit"]["storage_c"],
                 touch_c=touch_c(layers[0].material, then.borders_c[0]),
                 burn_c=table("heating.toml")["burn"][cover["burn"]]["60"])


def touch_c(material_id: str, surface_c: float) -> float:
    """Temperature at which skin and a surface meet, both taken for thick."""
    row, skin = material(material_id), table("heating.toml")["skin"]
    own = math.sqrt(row["k_w_mk"] * row["rho_kg_m3"] * row["c_j_kgk"])
    return (own * surface_c + skin["effusivity"] * skin["temperature_c"]) / (own + skin["effusivity"])


# -- one layer by itself: what the textbooks print

def biot(layer: Layer, h_w_m2k: float) -> float:
    return h_w_m2k * layer.thickness_mm / 1000 / material(layer.material)["k_w_mk"]


def first_root(bi: float) -> tuple[float, float]:
    """The first root of z tan z = Bi and the coefficient C1 of the plane wall's series [2]."""
    from scipy.optimize import brentq

    z = float(brentq(lambda x: x * math.tan(x) - bi, 1e-9, math.pi / 2 - 1e-9))
    return z, 4 * math.sin(z) / (2 * z + math.sin(2 * z))


def slab_time_s(layer: Layer, h_w_m2k: float, source_c: float, start_c: float, reach_c: float) -> float:
    """When the far face of one layer, nothing behind it, reaches a temperature: the series [2], all its terms."""
    from scipy.optimize import brentq

    row, length = material(layer.material), layer.thickness_mm / 1000
    bi, theta = biot(layer, h_w_m2k), (source_c - reach_c) / (source_c - start_c)
    roots = [float(brentq(lambda x: x * math.sin(x) - bi * math.cos(x), n * math.pi + 1e-12,
                          (n + 0.5) * math.pi)) for n in range(60)]

    def left(fo: float) -> float:
        return sum(4 * math.sin(z) / (2 * z + math.sin(2 * z)) * math.exp(-z * z * fo)
                   for z in roots) - theta

    fourier = float(brentq(left, 1e-6, 200 / min(bi, 1.0)))
    return fourier * length ** 2 * row["rho_kg_m3"] * row["c_j_kgk"] / row["k_w_mk"]


def lumped_time_s(layer: Layer, h_w_m2k: float, source_c: float, start_c: float, reach_c: float) -> float:
    """The same with the layer taken to be of one temperature. Raises Refusal where it is not thin enough for that."""
    if biot(layer, h_w_m2k) > LUMPED_BIOT:
        raise Refusal("layer", "not-lumped", biot=biot(layer, h_w_m2k), most=LUMPED_BIOT)
    row, theta = material(layer.material), (source_c - reach_c) / (source_c - start_c)
    return -math.log(theta) * row["rho_kg_m3"] * row["c_j_kgk"] * layer.thickness_mm / 1000 / h_w_m2k
