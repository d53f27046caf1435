"""A second, plain reading of the rules: every feasible sequence is tried. Shares no code with the planner.

Written from the words of docs/format.md alone, on plain dictionaries, slow on purpose.
"""

from __future__ import annotations

INF = (10**9, 10**9)


class Device:
    def __init__(self, data):
        self.data = data
        self.settings = {"hand_is_tool": False, "tool_groups": [], "own_step": [], "each_tool": False,
                         "isolate_first": True, "tool_change_s": 3.6, "turn_s": 3.6, **data.get("settings", {})}
        variant = data["device"].get("variant", "")
        self.base = data["device"]["base"]

        def here(thing):
            return not variant or not thing.get("only_in") or variant in thing["only_in"]

        all_parts = {p["id"]: p for p in data["parts"]}
        self.parts = {id_: p for id_, p in all_parts.items() if here(p)}

        def below(id_):
            on = all_parts[id_].get("on") or self.base
            while on not in self.parts:
                on = all_parts[on].get("on") or self.base
            return on

        def stand(id_):
            while id_ != self.base and self.parts[id_].get("captive"):
                id_ = below(id_)
            return id_

        self.stand = {id_: stand(id_) for id_ in self.parts}
        self.free = [id_ for id_ in self.parts if self.stand[id_] == id_ and id_ != self.base]
        self.on = {id_: stand(below(id_)) for id_ in self.free}
        self.joints = {}
        cleared = set()
        for joint in data["joints"]:
            present = [p for p in joint["of"] if p in self.parts]
            of = frozenset(self.stand[p] for p in present)
            if not here(joint) or len(of) < 2 or joint["kind"] == "contact":
                cleared.add(joint["id"])
            else:
                self.joints[joint["id"]] = {**joint, "parts": of}
        self.names_cleared = cleared | (set(all_parts) - set(self.parts))
        self.sources = {}
        for id_, thing in [*((i, self.parts[i]) for i in self.free), *self.joints.items()]:
            isolates = thing.get("isolates", False)
            if isolates is not False:
                self.sources.setdefault("" if isolates is True else isolates, set()).add(id_)

    def tool(self, tool):
        if tool == "hand" and not self.settings["hand_is_tool"]:
            return None
        for n, group in enumerate(self.settings["tool_groups"]):
            if tool in group:
                return ("group", n)
        return tool

    def needs_safe(self, op):
        if op[3] > 0:
            return False
        if op[0] == "remove":
            part = self.parts[op[1]]
            return part.get("needs_safe", False) and part.get("isolates", False) is False
        joint = self.joints[op[1]]
        if joint.get("passive") or joint.get("isolates", False) is not False:
            return False
        if any(self.parts[p].get("isolates", False) is not False for p in joint["parts"]):
            return False
        if joint["kind"] == "connector" or joint.get("needs_safe"):
            return True
        return joint["kind"] in ("adhesive", "film", "press-fit") and any(
            self.parts[p].get("kind") == "battery" and self.on.get(p) in joint["parts"] for p in joint["parts"])

    def act(self, op):
        if op[0] == "remove":
            part = self.parts[op[1]]
            return {"tool": "hand", **(part["acts"][op[3]] if "acts" in part else part)}
        way = self.joints[op[1]]["ways"][op[2]]
        return {"tool": "hand", "wait_s": 0, **(way["acts"][op[3]] if "acts" in way else way)}

    def is_last(self, op):
        """Whether a joint is released, or a part off, with this act."""
        thing = self.parts[op[1]] if op[0] == "remove" else self.joints[op[1]]["ways"][op[2]]
        return op[3] + 1 == len(thing.get("acts", [0]))

    def lifts(self, op):
        return op[0] == "remove" and self.is_last(op)

    # A state is a tuple of operations done, in order. Everything is worked out from it by the words of the rules.

    def state_of(self, done):
        removed, lifted, released = [], [], {}
        for op in done:
            if self.lifts(op):
                lifted.append(self.assembly(op[1], removed))
                removed.append(op[1])
            elif op[0] == "release" and self.is_last(op):
                released[op[1]] = op
        return removed, lifted, released

    def assembly(self, part, removed):
        found = {part}
        while True:
            more = {p for p in self.free if self.on[p] in found and p not in removed and p not in found}
            if not more:
                return frozenset(found)
            found |= more

    def name_clear(self, name, thing_parts, lifted, released):
        if name in self.names_cleared or name in released:
            return True
        if name in self.joints:
            return False
        hider = self.stand[name]
        return any((hider in a) != (thing_parts <= a) for a in lifted)

    def behind_clear(self, behind, thing_parts, lifted, released):
        return not behind or any(all(self.name_clear(n, thing_parts, lifted, released) for n in alternative)
                                 for alternative in behind)

    def next_ops(self, done):
        removed, lifted, released = self.state_of(done)
        if done and not self.is_last(done[-1]):
            after = (*done[-1][:3], done[-1][3] + 1)
            if after[0] == "remove" or self.act(after).get("at_once"):
                return [after]
        begun = {op[1]: (op[2], op[3] + 1) for op in done if op[0] == "release"}
        found = []
        for id_, joint in self.joints.items():
            if id_ in released:
                continue
            for w, way in enumerate(joint["ways"]):
                if id_ in begun:
                    if begun[id_][0] == w:
                        found.append(("release", id_, w, begun[id_][1]))
                elif self.behind_clear(joint.get("behind"), joint["parts"], lifted, released) \
                        and self.behind_clear(way.get("behind"), joint["parts"], lifted, released):
                    found.append(("release", id_, w, 0))
        for part in self.free:
            if part in removed:
                continue
            inside = self.assembly(part, removed)
            tied = any(j["parts"] & inside and j["parts"] - inside and i not in released
                       for i, j in self.joints.items())
            if not tied and self.behind_clear(self.parts[part].get("behind"), frozenset((part,)), lifted, released):
                found.append(("remove", part, 0, 0))
        return found

    def reached(self, done, target):
        removed, _, released = self.state_of(done)
        target = self.stand[target]
        if target != self.base:
            return target in removed
        return all(p in removed for p in self.free if self.on[p] == self.base) and all(
            i in released for i, j in self.joints.items() if self.base in j["parts"])

    def is_live(self, done, op):
        if not self.sources or not self.needs_safe(op):
            return False
        finished = {o[1] for o in done if self.is_last(o)}
        return not all(ids & finished for ids in self.sources.values())

    # -- counting

    def steps(self, sequence):
        """Walk the acts as the words say: close steps at removals, tool changes and around acts of their own."""
        ended, pending, tool, extra = 0, False, None, 0
        for op in sequence:
            act = self.act(op)
            mine = self.tool(act["tool"])
            own = bool(act.get("does")) and act["does"] in self.settings["own_step"]
            if pending and (own or (mine is not None and tool is not None and mine != tool)):
                ended, pending, tool = ended + 1, False, None
            pending = True
            tool = mine if mine is not None else tool
            if own or self.lifts(op):
                ended, pending, tool = ended + 1, False, None
            if self.settings["each_tool"]:
                extra += len(act.get("also", []))
        return ended + pending + extra

    def live(self, sequence):
        return sum(self.is_live(sequence[:n], op) for n, op in enumerate(sequence))

    def time_ms(self, sequence):
        """Simulate: one act at a time, each as early as its sequence allows."""
        change, turn = (round(self.settings[k] * 1000) for k in ("tool_change_s", "turn_s"))
        clock, tool, side, effect = 0, None, None, {}
        for n, op in enumerate(sequence):
            act = self.act(op)
            mine = self.tool(act["tool"])
            facing = (self.parts if op[0] == "remove" else self.joints)[op[1]].get("side", "any")
            start = clock
            if mine is not None and tool is not None and mine != tool:
                start += change
            if facing != "any" and side is not None and facing != side:
                start += turn
            start = max(start, self.ready(sequence[:n], op, effect))
            clock = start + round(act["active_s"] * 1000)
            tool = mine if mine is not None else tool
            side = facing if facing != "any" else side
            effect[op] = clock + round(act.get("wait_s", 0) * 1000)
        return clock

    def ready(self, done, op, effect):
        """The earliest time at which what has been done lets the operation start: try the clock at every effect."""
        for time in sorted({0, *effect.values()}):
            by_then = tuple(o for o in done if effect[o] <= time)
            if self.allowed_at(by_then, done, op):
                return time
        raise AssertionError("not allowed at all")

    def allowed_at(self, by_then, done, op):
        _, lifted, _ = self.state_of(done)
        released = {o[1] for o in by_then if o[0] == "release" and self.is_last(o)}
        lifted = [a for a, o in zip(lifted, [o for o in done if self.lifts(o)]) if o in by_then]
        if op[3]:
            return (*op[:3], op[3] - 1) in by_then
        if op[0] == "remove":
            removed = [o[1] for o in done if self.lifts(o)]
            inside = self.assembly(op[1], removed)
            if any(j["parts"] & inside and j["parts"] - inside and i not in released
                   for i, j in self.joints.items()):
                return False
            return self.behind_clear(self.parts[op[1]].get("behind"), frozenset((op[1],)), lifted, released)
        joint = self.joints[op[1]]
        return self.behind_clear(joint.get("behind"), joint["parts"], lifted, released) \
            and self.behind_clear(joint["ways"][op[2]].get("behind"), joint["parts"], lifted, released)

    # -- all sequences

    def least_steps(self, target):
        """(live acts, steps) of the best sequence, or None. Sequences that differ only in the order of what is done
        long since are tried once: what may come next depends on the set done, the lifted assemblies and the end."""
        first = (lambda live, steps: (live, steps)) if self.settings["isolate_first"] else (lambda _, steps: (0, steps))
        known = {}

        def best(done, pending, tool):
            if self.reached(done, target):
                return (0, 1 if pending else 0)
            _, lifted, _ = self.state_of(done)
            key = (frozenset(done), frozenset(lifted), pending, tool, done[-1:] if done else ())
            if key not in known:
                value = INF
                for op in self.next_ops(done):
                    act = self.act(op)
                    mine = self.tool(act["tool"])
                    own = bool(act.get("does")) and act["does"] in self.settings["own_step"]
                    closes = pending and (own or (mine is not None and tool is not None and mine != tool))
                    now = mine if closes or mine is not None else tool
                    ends = own or self.lifts(op)
                    extra = len(act.get("also", [])) if self.settings["each_tool"] else 0
                    rest = best((*done, op), not ends, None if ends else now)
                    if rest == INF:
                        continue
                    live = int(self.is_live(done, op))
                    value = min(value, first(rest[0] + live, rest[1] + int(closes) + int(ends) + extra))
                known[key] = value
            return known[key]

        value = best((), False, None)
        return None if value == INF else value

    def least_time(self, target):
        """(live acts, ms) over all sequences, tried one by one."""
        best = [INF]

        def go(done):
            if self.reached(done, target):
                live = self.live(done) if self.settings["isolate_first"] else 0
                best[0] = min(best[0], (live, self.time_ms(done)))
                return
            for op in self.next_ops(done):
                go((*done, op))

        go(())
        return None if best[0] == INF else best[0]

    def can_free(self, target, kept):
        """Whether some order frees the target when only the things in `kept` keep their constraints."""
        seen = set()

        def go(removed, lifted, released):
            released = set(released)
            changed = True
            while changed:
                more = {i for i, j in self.joints.items() if i not in released and (i not in kept or (
                    self.behind_clear(j.get("behind"), j["parts"], lifted, released) and any(
                        self.behind_clear(way.get("behind"), j["parts"], lifted, released) for way in j["ways"])))}
                changed = bool(more)
                released |= more
            stand = self.stand[target]
            if stand in removed or (stand == self.base and all(
                    p in removed for p in self.free if self.on[p] == self.base) and all(
                    i in released for i, j in self.joints.items() if self.base in j["parts"])):
                return True
            state = (frozenset(removed), frozenset(lifted), frozenset(released))
            if state in seen:
                return False
            seen.add(state)
            for part in self.free:
                if part in removed:
                    continue
                inside = self.assembly(part, removed)
                tied = any(j["parts"] & inside and j["parts"] - inside and i not in released
                           for i, j in self.joints.items())
                lifts = part not in kept or (not tied and self.behind_clear(
                    self.parts[part].get("behind"), frozenset((part,)), lifted, released))
                if lifts and go([*removed, part], [*lifted, inside], released):
                    return True
            return False

        return go([], [], set())
