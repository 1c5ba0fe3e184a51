package leanladder.tell;

import com.fasterxml.jackson.databind.node.ObjectNode;
import leanladder.document.Json;
import leanladder.estate.Estate;
import leanladder.estate.Statement;
import leanladder.resolve.Climb;

/** Writes a climb as estate-format.md has it, its evidence in sentences. */
public final class ClimbJson {
    private ClimbJson() {}

    /** The climb; linear in what was weighed. */
    public static ObjectNode of(Climb climb, Estate estate) {
        EvidenceTelling evidence =
                new EvidenceTelling(new Wording(estate, climb.question().at()));
        ObjectNode json = Json.NODES.objectNode();
        json.set(
                "outcome",
                climb.outcome().json(climb.account().id(), climb.setting().key()));
        var list = json.putArray("climb");
        climb.weighed().forEach(w -> list.add(weighed(w)));
        json.put("follows", climb.follows().orElse(null));
        var plates = json.putArray("gates");
        for (Climb.Gate gate : climb.gates()) {
            ObjectNode plate = plates.addObject();
            plate.set("need", gate.need().source());
            plate.put("met", gate.met());
            plate.put("evidence", evidence.of(gate.evidence()));
        }
        return json;
    }

    private static ObjectNode weighed(Climb.Weighed weighed) {
        ObjectNode entry = Json.NODES.objectNode();
        entry.put("policy", weighed.spoken().policy().id());
        entry.put("rung", weighed.way().rung().height().word());
        var via = entry.putArray("via");
        weighed.way().via().forEach(via::add);
        Statement statement = weighed.spoken().statement();
        entry.put("says", statement instanceof Statement.Set ? "set" : "cap");
        entry.set("value", statement.value().json());
        entry.put("lock", statement instanceof Statement.Set set && set.lock());
        entry.put("verdict", weighed.verdict().word());
        weighed.by().ifPresent(target -> entry.put("by", target));
        return entry;
    }
}
