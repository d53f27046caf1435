"""Wrong proposals, told where they would come from: in what was found between two photographs. So whatever is made of
what was found is made of these too, again and again while lines are named, until somebody refuses them."""

from __future__ import annotations

from msgspec.structs import replace

from oddbolt.imaging.differing.difference import CAME_OFF, GONE, HEAD, PRESENT, SMALL, Region

ACROSS_MM = {CAME_OFF: (8.0, 24.0), SMALL: (2.5, 4.5), HEAD: (2.2, 2.6)}
MOST_TRIES = 30


class Lies:
    """As many that one proposal in `1 / share` is wrong: a part, a plug or a head that is said to have gone and is
    there, a marked group that is said to be out, a part on record that is said to be off."""

    def __init__(self, rng, share):
        self._rng, self._share = rng, share
        self._spoiled = set()
        self.told, self.boxes = 0, []

    def are_refused(self, hands):
        """About as many as were wanted were told, and next to all of them cost an act."""
        assert self.told >= self._share * hands.proposed / 2 and hands.false >= self.told * 0.8

    def spoil(self, acts, teardown, state):
        """What waits and was not spoiled yet."""
        for n, pair in enumerate(acts.pairs):
            if pair.views in self._spoiled:
                continue
            self._spoiled.add(pair.views)
            for _ in range(acts._of.count(n)):
                if self._rng.random() < self._share / (1 - self._share):
                    self._tell(acts, pair, teardown, state)

    def _tell(self, acts, pair, teardown, state):
        was, before, found = pair.looking, len(acts.shown), pair.looking.found
        ways = [CAME_OFF, SMALL, HEAD, GONE, "lifted"]
        self._rng.shuffle(ways)
        for way in ways:
            lie = self._lie(way, found, was, teardown, state)
            if lie is None:
                continue
            pair.looking = replace(was, found=lie)
            acts.refresh()
            if len(acts.shown) > before:
                self.told += len(acts.shown) - before
                return
            pair.looking = was
            acts.refresh()

    def _lie(self, way, found, looking, teardown, state):
        if way == GONE:
            there = [n for n, one in enumerate(found.screws) if one.says == PRESENT]
            if not there:
                return None
            n = self._rng.choice(there)
            lie = replace(found.screws[n], says=GONE)
            return replace(found, screws=(*found.screws[:n], lie, *found.screws[n + 1:]))
        if way == "lifted":
            there = sorted({mark.thing for mark in looking.before.marks if mark.thing in teardown.part
                            and len(mark.outline) > 2 and state.is_in_place(mark.thing)} - set(found.lifted))
            return replace(found, lifted=(*found.lifted, self._rng.choice(there))) if there else None
        box = self._free_box(way, found, looking)
        if box is None:
            return None
        left, top, right, bottom = box
        corners = ((left, top), (right, top), (right, bottom), (left, bottom))
        self.boxes.append(tuple((x / looking.scale, y / looking.scale) for x, y in corners))
        return replace(found, regions=(*found.regions, Region(
            says=way, box=box, outline=corners, area_px=(right - left) * (bottom - top), broken=0.8, coloured=0.4,
            colour=tuple(self._rng.uniform(20, 220) for _ in range(3)))))

    def _free_box(self, way, found, looking):
        """A place where nothing was seen and nothing is marked."""
        per_px = looking.scale / looking.before.mm_per_px
        marks = [(mark.x * looking.scale, mark.y * looking.scale) for mark in (*looking.looked_at,
                                                                              *looking.before.marks)]
        xs, ys = ([region.middle[i] for region in found.regions] for i in (0, 1))
        if not xs:
            return None
        for _ in range(MOST_TRIES):
            wide, high = (self._rng.uniform(*ACROSS_MM[way]) * per_px for _ in range(2))
            if way == HEAD:
                high = wide
            left = self._rng.uniform(min(xs) - 60 * per_px, max(xs) + 60 * per_px)
            top = self._rng.uniform(min(ys) - 40 * per_px, max(ys) + 40 * per_px)
            box = left, top, left + wide, top + high
            if min(box) < 0 or any(_meet(box, region.box) for region in found.regions):
                continue
            if not any(_meet(box, (x, y, x, y), 2 * per_px) for x, y in marks):
                return box
        return None


def _meet(one, other, margin=4.0):
    return one[0] - margin < other[2] and other[0] - margin < one[2] \
        and one[1] - margin < other[3] and other[1] - margin < one[3]
