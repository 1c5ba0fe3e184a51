package leanladder.edit.session;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import leanladder.estate.Plan;
import leanladder.reach.Directory;
import leanladder.seat.PlanLedger;
import leanladder.seat.SeatLedger;

/** Writes the estate file that edits lead to, from the file before them and the parts that they wrote and removed. */
final class ExportedEstate {
    private static final List<String> SECTIONS =
            List.of("units", "accounts", "groups", "workspaces", "hostings", "plans", "policies", "releases");

    private ExportedEstate() {}

    /** The file after the edits of a book, without holders. */
    static ObjectNode of(ObjectNode before, EditSession editSession) {
        ObjectNode file = before.deepCopy();
        for (String section : SECTIONS) {
            Map<String, JsonNode> parts = new TreeMap<>();
            String key = section.equals("releases") ? "setting" : "id";
            file.path(section).forEach(p -> parts.put(p.get(key).asText(), ((ObjectNode) p).without("holders")));
            editSession.removed().stream()
                    .filter(p -> p.section().equals(section))
                    .forEach(p -> parts.remove(p.key()));
            editSession.written().stream()
                    .filter(p -> p.section().equals(section))
                    .forEach(p -> parts.put(p.key(), p.body()));
            file.putArray(section).addAll(parts.values());
        }
        Map<String, JsonNode> settings = new TreeMap<>();
        file.path("catalogue")
                .path("settings")
                .forEach(s -> settings.put(s.get("key").asText(), s));
        editSession.removed().stream()
                .filter(p -> p.section().equals("settings"))
                .forEach(p -> settings.remove(p.key()));
        editSession.written().stream()
                .filter(p -> p.section().equals("settings"))
                .forEach(p -> settings.put(p.key(), p.body()));
        editSession.writtenFrame().ifPresent(frame -> file.set("catalogue", frame));
        ((ObjectNode) file.get("catalogue")).putArray("settings").addAll(settings.values());
        editSession.writtenRanking().ifPresent(ranking -> file.set("ranking", ranking));
        editSession.writtenRings().ifPresent(rings -> file.set("rings", rings));
        editSession.writtenTracks().ifPresent(tracks -> file.set("tracks", tracks));
        return file;
    }

    /** Lists in each plan of a file who holds its seats. */
    static ObjectNode withHolders(ObjectNode file, SeatLedger seatLedger, List<Plan> plans, Directory directory) {
        for (Plan plan : plans) {
            PlanLedger planLedger = seatLedger.page(plan.id());
            for (JsonNode written : file.path("plans")) {
                if (!written.path("id").asText().equals(plan.id())) continue;
                ArrayNode holders = ((ObjectNode) written).putArray("holders");
                planLedger
                        .holders()
                        .forEach((int n) -> holders.addObject()
                                .put("account", directory.account(n).id())
                                .put(
                                        "granted",
                                        planLedger.granted(n).orElseThrow().toString()));
            }
        }
        return file;
    }
}
