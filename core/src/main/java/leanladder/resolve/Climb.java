package leanladder.resolve;

import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.List;
import java.util.Optional;
import java.util.function.Supplier;
import leanladder.catalogue.Need;
import leanladder.catalogue.Setting;
import leanladder.estate.Account;
import leanladder.estate.Statement;
import leanladder.estate.Window;
import leanladder.reach.Way;
import leanladder.text.Json;

/**
 * Everything that was weighed on the way to one outcome.
 *
 * @param weighed every statement on the setting whose policy's assignments touch the account, lowest rung first, then by
 *     ranking
 * @param follows the setting whose in-force value the built-in default stood for, where it counted
 * @param gates every need with what became of it; empty when the gates were not asked
 */
public record Climb(
        Account account,
        Setting setting,
        Question question,
        Outcome outcome,
        List<Weighed> weighed,
        Optional<String> follows,
        List<Gate> gates) {

    /**
     * One statement and what became of it.
     *
     * @param by the target of the exception, when the verdict is {@link Verdict#EXCEPTED}
     * @param window the window that was not met, when the verdict is early or ended
     */
    public record Weighed(Spoken spoken, Way way, Verdict verdict, Optional<String> by, Optional<Window> window) {
        private ObjectNode json() {
            ObjectNode entry = Json.NODES.objectNode();
            entry.put("policy", spoken.policy().id());
            entry.put("rung", way.rung().height().word());
            var via = entry.putArray("via");
            way.via().forEach(via::add);
            Statement statement = spoken.statement();
            entry.put("says", statement instanceof Statement.Set ? "set" : "cap");
            entry.set("value", statement.value().json());
            entry.put("lock", statement instanceof Statement.Set set && set.lock());
            entry.put("verdict", verdict.word());
            by.ifPresent(target -> entry.put("by", target));
            return entry;
        }
    }

    /**
     * A need and what became of it.
     *
     * @param told makes the evidence, which costs more than to know whether the need is met
     */
    public record Gate(Need need, boolean met, Supplier<String> told) {
        /** The evidence as a sentence. */
        public String evidence() {
            return told.get();
        }
    }

    /** The climb as estate-format.md writes it. */
    public ObjectNode json() {
        ObjectNode json = Json.NODES.objectNode();
        json.set("outcome", outcome.json(account.id(), setting.key()));
        var list = json.putArray("climb");
        weighed.forEach(w -> list.add(w.json()));
        json.put("follows", follows.orElse(null));
        var plates = json.putArray("gates");
        for (Gate gate : gates) {
            ObjectNode plate = plates.addObject();
            plate.set("need", gate.need().source());
            plate.put("met", gate.met());
            plate.put("evidence", gate.evidence());
        }
        return json;
    }
}
