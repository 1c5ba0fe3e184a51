package leanladder.resolve;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.List;
import java.util.Optional;
import leanladder.catalogue.Need;
import leanladder.catalogue.Value;
import leanladder.json.Json;
import leanladder.reach.Rung;

/**
 * The answer to one question (resolution.md).
 *
 * @param value in force
 * @param decided the value before the gates and after the caps
 * @param rung the rung that decided, before the caps
 * @param policy the policy that decided; empty on the built-in rung
 * @param cappedBy the policy whose cap changed the value
 * @param blockedBy the unmet needs, in catalogue order
 * @param dependsOnWorkspace whether a workspace could matter to a question that named none
 */
public record Outcome(
        Value value,
        Value decided,
        Standing standing,
        Rung rung,
        Optional<String> policy,
        Optional<String> cappedBy,
        List<Need> blockedBy,
        boolean dependsOnWorkspace) {

    /** Whether the same statements and gates lead to the same value; a workspace that could matter is not looked at. */
    public boolean isDecidedLike(Outcome other) {
        return value.equals(other.value)
                && decided.equals(other.decided)
                && standing == other.standing
                && rung.equals(other.rung)
                && policy.equals(other.policy)
                && cappedBy.equals(other.cappedBy)
                && blockedBy.equals(other.blockedBy);
    }

    /** Of what tells most outcomes of a setting apart; needs, whose source is JSON, would cost more than they tell. */
    @Override
    public int hashCode() {
        int hash = 31 * value.hashCode() + decided.hashCode();
        hash = 31 * (31 * hash + standing.ordinal()) + rung.hashCode();
        return 31 * (31 * hash + policy.hashCode()) + cappedBy.hashCode();
    }

    /** The outcome as a line of the command line's output, for this account and setting. */
    public ObjectNode json(String account, String setting) {
        ObjectNode line = Json.NODES.objectNode();
        line.put("account", account);
        line.put("setting", setting);
        line.setAll(rest());
        return line;
    }

    /** The members that do not name account and setting, in the order of estate-format.md. */
    public ObjectNode rest() {
        ObjectNode rest = Json.NODES.objectNode();
        rest.set("value", value.json());
        rest.set("decided", decided.json());
        rest.put("standing", standing.word());
        rest.put("rung", rung.kind().word());
        rest.put("policy", policy.orElse(null));
        rest.put("cappedBy", cappedBy.orElse(null));
        rest.set("blockedBy", blocked());
        rest.put("dependsOnWorkspace", dependsOnWorkspace);
        return rest;
    }

    private JsonNode blocked() {
        var array = Json.NODES.arrayNode(blockedBy.size());
        blockedBy.forEach(need -> array.add(need.source()));
        return array;
    }
}
