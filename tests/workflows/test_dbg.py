import os
from tests.workflows.test_record_watched import *
from oddbolt.knowledge.said.seen import *
def test_dbg(app,tmp_path,clock,capsys):
    radio=os.environ.get("RADIO")
    args=(Preparation(name="Bittern", category="radio"), tmp_path, clock, demo_scene("bittern"), SPOTS) if radio else (Preparation(name="blank"), tmp_path, clock)
    F="/tmp/diag/dbg_%s.txt"%("r" if radio else "t")
    from pathlib import Path
    P=lambda *a: Path(F).write_text(Path(F).read_text()+" ".join(map(str,a))+"\n")
    Path(F).write_text("")
    with hands_on(*args) as hands:
        h=WatchedHands(hands)
        on=WatchedHands._name
        def nm(self,n,thing,key):
            one=self.log.seen_acts.shown[n]; b=self.acts
            on(self,n,thing,key)
            k=self.scene.records[thing]["kind"]
            P("LOOK",one.code,k,one.kind or "-",self.acts-b,thing,one.look.size_mm if one.look else "",[round(c) for c in one.look.colour] if one.look else "")
        WatchedHands._name=nm
        try:
            (the_radio if radio else the_tablet)(h)
            P(h.acts,dict(h.sorts),operations(h),"missed",h.missed)
            from oddbolt.model import exchange; import json
            Path(F+".json").write_text(exchange.dumps(h.now)); Path(F+".of").write_text(json.dumps(h.of))
            true=read_json(BITTERN if radio else DEMO)
            first,before,number,after=told_and_counted(h,true,MATTER if radio else ROLES,capsys)
            P(first,operations(h),before,number,after,h.acts-first)
            Path(F+".2.json").write_text(exchange.dumps(h.now))
        finally: WatchedHands._name=on
