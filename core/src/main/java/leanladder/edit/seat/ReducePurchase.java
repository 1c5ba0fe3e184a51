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
import java.util.Set;
import leanladder.edit.EditKind;
import leanladder.edit.Member;
import leanladder.estate.Plan;
import leanladder.estate.Purchase;
import leanladder.json.Instants;
import leanladder.json.Json;
import leanladder.json.JsonCursor;
import leanladder.workingcopy.EntityType;
import leanladder.workingcopy.Overlay;

/**
 * Gives bought seats back from an instant on. Those bought last go first: a purchase ends then, and one of which only a part goes
 * back is split; one that would begin and end at the same instant is no more.
 */
public record ReducePurchase(
        @Member(names = "plan") String plan,
        BigInteger seats,
        @Member(instant = true) String from) implements PlanEdit {
    public static final EditKind KIND = EditKind.of(
            "return-seats", EntityType.PLAN.duty(), ReducePurchase.class, "gives bought seats back from an instant on");

    @Override
    public ReducePurchase apply(Overlay on, JsonCursor at) {
        Plan current = planOn(on);
        int bought = current.seats(fromInstant());
        if (seats.compareTo(BigInteger.valueOf(bought)) > 0)
            at.member("seats")
                    .orElseThrow()
                    .defect("is more than were bought: " + current.name() + " has "
                            + (bought == 1 ? "one seat" : bought + " seats") + " then");
        else {
            PurchaseList purchases = new PurchaseList(current);
            on.amend(EntityType.PLAN, plan, purchases.members(left(purchases)));
        }
        return this;
    }

    /** From when on. */
    public Instant fromInstant() {
        return Instants.instant(from).orElseThrow();
    }

    /** What is left of the purchases. */
    private ArrayNode left(PurchaseList list) {
        Instant end = fromInstant();
        ArrayNode written = list.written();
        List<Purchase> purchases = list.plan().purchases();
        List<Integer> latestFirst = new ArrayList<>();
        for (int i = 0; i < written.size(); i++) if (purchases.get(i).window().holds(end)) latestFirst.add(i);
        latestFirst.sort(Comparator.comparing(
                        (Integer i) -> purchases.get(i).window().from().orElse(Instant.MIN))
                .thenComparing(i -> i)
                .reversed());
        int[] returned = new int[written.size()];
        int rest = seats.intValueExact();
        for (int i : latestFirst) {
            returned[i] = Math.min(rest, purchases.get(i).seats());
            rest -= returned[i];
        }
        ArrayNode left = Json.NODES.arrayNode();
        for (int i = 0; i < written.size(); i++) {
            Purchase purchase = purchases.get(i);
            if (returned[i] < purchase.seats()) left.add(part(written.get(i), purchase.seats() - returned[i]));
            boolean stays = returned[i] > 0 && !purchase.window().from().equals(Optional.of(end));
            if (stays) left.add(part(written.get(i), returned[i]).put("until", end.toString()));
        }
        return left;
    }

    private static ObjectNode part(JsonNode purchase, int seats) {
        ObjectNode part = purchase.deepCopy();
        return part.put("seats", seats);
    }

    @Override
    public Set<String> paths() {
        return Set.of(path("purchases"));
    }
}
