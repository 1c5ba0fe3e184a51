package leanladder.change.seat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.Optional;
import leanladder.change.overlay.EditKind;
import leanladder.change.overlay.Overlay;
import leanladder.document.Json;
import leanladder.document.Place;
import leanladder.estate.Plan;
import leanladder.estate.Purchase;
import leanladder.estate.read.Parts;
import leanladder.tell.Wording;

/** Buys seats of a plan, for good or for a while; a plan with a plain number of seats has purchases from then on. */
public final class BuySeats extends PlanEdit {
    public static final EditKind KIND = new Kind("buy-seats", "purchases") {
        @Override
        public Optional<BuySeats> read(Place place, Overlay on) {
            Optional<Plan> plan = known(place, on);
            Optional<Purchase> purchase = place.required("purchase").flatMap(Parts::purchase);
            if (plan.isEmpty() || purchase.isEmpty()) return Optional.empty();
            ArrayNode purchases = Purchases.of(plan.get());
            purchases.add(place.node().get("purchase"));
            return Optional.of(new BuySeats(
                    (ObjectNode) place.node(),
                    plan.get().id(),
                    Purchases.members(plan.get(), purchases),
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

    private BuySeats(ObjectNode sent, String plan, ObjectNode members, Purchase purchase) {
        super(KIND, sent, plan, members);
        this.purchase = purchase;
    }

    @Override
    public String words(Overlay before, Wording wording) {
        return Purchases.seats(purchase.seats()) + " of " + name(before)
                + (purchase.seats() == 1 ? " is" : " are") + " bought"
                + purchase.window()
                        .from()
                        .map(f -> " from " + wording.moment(f))
                        .orElse("")
                + purchase.window()
                        .until()
                        .map(u -> " until " + wording.moment(u))
                        .orElse("");
    }

    /** How purchases stand in a plan. */
    static final class Purchases {
        private Purchases() {}

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
}
