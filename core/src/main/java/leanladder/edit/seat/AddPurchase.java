package leanladder.edit.seat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.Optional;
import leanladder.edit.EditKind;
import leanladder.estate.Plan;
import leanladder.estate.Purchase;
import leanladder.estate.read.EntityParsers;
import leanladder.json.Json;
import leanladder.json.JsonCursor;
import leanladder.workingcopy.Overlay;

/** Buys seats of a plan, for good or for a while; a plan with a plain number of seats has purchases from then on. */
public final class AddPurchase extends PlanEdit {
    public static final EditKind KIND = new PlanEditKind("buy-seats", "purchases") {
        @Override
        public Optional<AddPurchase> read(JsonCursor jsonCursor, Overlay on) {
            Optional<Plan> plan = known(jsonCursor, on);
            Optional<Purchase> purchase = jsonCursor.required("purchase").flatMap(EntityParsers::purchase);
            if (plan.isEmpty() || purchase.isEmpty()) return Optional.empty();
            ArrayNode purchases = PurchaseList.of(plan.get());
            purchases.add(jsonCursor.node().get("purchase"));
            return Optional.of(new AddPurchase(
                    (ObjectNode) jsonCursor.node(),
                    plan.get().id(),
                    PurchaseList.members(plan.get(), purchases),
                    purchase.get()));
        }

        @Override
        public String schema() {
            return schema(
                    "buys seats of a plan",
                    "\"plan\",\"purchase\"",
                    PLAN
                            + ",\"purchase\":{\"type\":\"object\",\"required\":[\"seats\"],\"properties\":{\"seats\":{\"type\":\"integer\",\"minimum\":1},"
                            + "\"from\":{\"type\":\"string\",\"format\":\"date-time\"},\"until\":{\"type\":\"string\",\"format\":\"date-time\"},\"note\":{\"type\":\"string\"}}}");
        }
    };

    private final Purchase purchase;

    private AddPurchase(ObjectNode sent, String plan, ObjectNode members, Purchase purchase) {
        super(KIND, sent, plan, members);
        this.purchase = purchase;
    }

    /** How purchases stand in a plan. */
    static final class PurchaseList {
        private PurchaseList() {}

        /** The purchases of a plan as the estate file writes them, in a list of one's own; of a plain number, one. */
        static ArrayNode of(Plan plan) {
            ArrayNode purchases = Json.NODES.arrayNode();
            plan.source().path("purchases").forEach(purchases::add);
            JsonNode plain = plan.source().path("seats");
            if (plain.asLong() > 0) purchases.addObject().set("seats", plain);
            return purchases;
        }

        /** The members of a plan that has these purchases. */
        static ObjectNode members(Plan plan, ArrayNode purchases) {
            ObjectNode members = Json.NODES.objectNode();
            if (plan.source().has("seats")) members.putNull("seats");
            members.set("purchases", purchases);
            return members;
        }

        static String seats(long count) {
            return count == 1 ? "one seat" : count + " seats";
        }
    }

    /** What is bought. */
    public Purchase purchase() {
        return purchase;
    }
}
