package leanladder.text;

import com.fasterxml.jackson.databind.node.ObjectNode;
import leanladder.estate.Estate;
import leanladder.estate.Statement;
import leanladder.json.Json;
import leanladder.resolve.Climb;

/** Writes a climb as estate-format.md has it, its evidence in sentences. */
public final class ClimbJson {
    private ClimbJson() {}

    /** The climb; linear in what was weighed. */
    public static ObjectNode write(Climb climb, Estate estate) {
        EvidenceFormatter evidence = new EvidenceFormatter(
                new EstateFormatter(estate, climb.evaluationContext().at()));
        ObjectNode json = Json.NODES.objectNode();
        json.set(
                "outcome",
                climb.outcome().json(climb.account().id(), climb.setting().key()));
        var list = json.putArray("climb");
        climb.entries().forEach(w -> list.add(entry(w)));
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

    private static ObjectNode entry(Climb.Entry entry) {
        ObjectNode json = Json.NODES.objectNode();
        json.put("policy", entry.rankedStatement().policy().id());
        json.put("rung", entry.matchPath().rung().kind().word());
        var via = json.putArray("via");
        entry.matchPath().via().forEach(via::add);
        Statement statement = entry.rankedStatement().statement();
        json.put("says", statement instanceof Statement.Set ? "set" : "cap");
        json.set("value", statement.value().json());
        json.put("lock", statement instanceof Statement.Set set && set.lock());
        json.put("verdict", entry.verdict().word());
        entry.by().ifPresent(target -> json.put("by", target));
        return json;
    }
}
