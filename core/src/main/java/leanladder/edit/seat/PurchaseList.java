package leanladder.edit.seat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import leanladder.estate.Plan;
import leanladder.json.Json;

/** The purchases of a plan as the estate file writes them; a plan can have a plain number of seats instead. */
record PurchaseList(Plan plan) {
    private static final String SEATS = "seats";
    private static final String PURCHASES = "purchases";

    /** A new list of the purchases; of a plain number of seats, one. */
    ArrayNode written() {
        ArrayNode purchases = Json.NODES.arrayNode();
        plan.source().path(PURCHASES).forEach(purchases::add);
        JsonNode plain = plan.source().path(SEATS);
        if (plain.asLong() > 0) purchases.addObject().set(SEATS, plain);
        return purchases;
    }

    /** The members of a plan that has these purchases; one that has none has no seat. */
    ObjectNode members(ArrayNode purchases) {
        ObjectNode members = Json.NODES.objectNode();
        if (purchases.isEmpty()) return members.put(SEATS, 0).putNull(PURCHASES);
        if (plan.source().has(SEATS)) members.putNull(SEATS);
        return members.set(PURCHASES, purchases);
    }
}
