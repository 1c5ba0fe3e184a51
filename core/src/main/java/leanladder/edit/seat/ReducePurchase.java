package leanladder.edit.seat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.math.BigInteger;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import leanladder.edit.EditKind;
import leanladder.edit.seat.AddPurchase.PurchaseList;
import leanladder.estate.Plan;
import leanladder.estate.Purchase;
import leanladder.json.Json;
import leanladder.json.JsonCursor;
import leanladder.workingcopy.Overlay;

/**
 * Gives bought seats back from an instant on. Those bought last go first: a purchase ends then, and one of which only a part goes
 * back is split; one that would begin and end at the same instant is no more.
 */
public final class ReducePurchase extends PlanEdit {
    public static final EditKind KIND = new PlanEditKind("return-seats", "purchases") {
        @Override
        public Optional<ReducePurchase> read(JsonCursor jsonCursor, Overlay on) {
            Optional<Plan> plan = known(jsonCursor, on);
            Optional<JsonCursor> named = jsonCursor.required("seats");
            Optional<BigInteger> seats = named.flatMap(JsonCursor::integer);
            Optional<Instant> from = jsonCursor.required("from").flatMap(JsonCursor::instant);
            if (plan.isEmpty() || seats.isEmpty() || from.isEmpty()) return Optional.empty();
            if (seats.get().signum() <= 0) {
                named.get().defect("must be 1 or more");
                return Optional.empty();
            }
            int bought = plan.get().seats(from.get());
            if (seats.get().compareTo(BigInteger.valueOf(bought)) > 0) {
                named.get()
                        .defect("is more than were bought: " + plan.get().name() + " has " + PurchaseList.seats(bought)
                                + " then");
                return Optional.empty();
            }
            int count = seats.get().intValueExact();
            ArrayNode left = left(plan.get(), count, from.get());
            return Optional.of(new ReducePurchase(
                    (ObjectNode) jsonCursor.node(),
                    plan.get().id(),
                    left.isEmpty() ? none() : PurchaseList.members(plan.get(), left),
                    count,
                    from.get()));
        }

        @Override
        public String schema() {
            return schema(
                    "gives bought seats back from an instant on",
                    "\"plan\",\"seats\",\"from\"",
                    PLAN
                            + ",\"seats\":{\"type\":\"integer\",\"minimum\":1},\"from\":{\"type\":\"string\",\"format\":\"date-time\"}");
        }
    };

    private final int seats;
    private final Instant from;

    private ReducePurchase(ObjectNode sent, String plan, ObjectNode members, int seats, Instant from) {
        super(KIND, sent, plan, members);
        this.seats = seats;
        this.from = from;
    }

    private static ObjectNode none() {
        ObjectNode members = Json.NODES.objectNode().put("seats", 0);
        return members.putNull("purchases");
    }

    /** What is left of the purchases when so many seats go back. */
    private static ArrayNode left(Plan plan, int seats, Instant from) {
        ArrayNode written = PurchaseList.of(plan);
        List<Purchase> purchases = plan.purchases();
        List<Integer> latestFirst = new ArrayList<>();
        for (int i = 0; i < written.size(); i++) if (purchases.get(i).window().holds(from)) latestFirst.add(i);
        latestFirst.sort(Comparator.comparing(
                        (Integer i) -> purchases.get(i).window().from().orElse(Instant.MIN))
                .thenComparing(i -> i)
                .reversed());
        int[] goes = new int[written.size()];
        int rest = seats;
        for (int i : latestFirst) {
            goes[i] = Math.min(rest, purchases.get(i).seats());
            rest -= goes[i];
        }
        ArrayNode left = Json.NODES.arrayNode();
        for (int i = 0; i < written.size(); i++) {
            Purchase purchase = purchases.get(i);
            if (goes[i] < purchase.seats()) left.add(part(written.get(i), purchase.seats() - goes[i]));
            boolean stays = goes[i] > 0 && !purchase.window().from().equals(Optional.of(from));
            if (stays) left.add(part(written.get(i), goes[i]).put("until", from.toString()));
        }
        return left;
    }

    private static ObjectNode part(JsonNode purchase, int seats) {
        ObjectNode part = purchase.deepCopy();
        return part.put("seats", seats);
    }

    /** How many seats are returned. */
    public int seats() {
        return seats;
    }

    /** From when on. */
    public Instant from() {
        return from;
    }
}
