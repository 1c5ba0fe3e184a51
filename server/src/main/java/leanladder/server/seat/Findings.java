package leanladder.server.seat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.math.BigDecimal;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import leanladder.advise.SeatFinding;
import leanladder.change.seat.TakeSeats;
import leanladder.document.Json;
import leanladder.estate.Plan;
import leanladder.seat.Allocation;
import leanladder.server.draft.Inquiry;
import leanladder.server.http.Shape;
import leanladder.server.today.Matter;
import org.roaringbitmap.RoaringBitmap;

/** What is worth looking at about seats, in words, each with the edit that mends it. */
final class Findings {
    private static final int MOST_TAKEN = 10_000;

    private Findings() {}

    /** Something worth looking at. @param mend what the edit does, in words @param edit stages it; null where there is none */
    public record Worth(String plan, String words, String mend, Optional<@Shape("Edit") JsonNode> edit) {}

    static List<Worth> of(Inquiry inquiry) {
        return SeatFinding.of(
                        inquiry.moment().entitlements(),
                        inquiry.directory(),
                        inquiry.question().at())
                .stream()
                .map(f -> told(f, inquiry))
                .toList();
    }

    /** What cannot wait: plans in whose line somebody stands, and those that end soon or have ended while somebody wants them. */
    static List<Matter> today(Inquiry inquiry) {
        List<Matter> matters = new ArrayList<>();
        for (Allocation allocation : inquiry.moment().entitlements().allocations()) {
            int waiting = allocation.claimants().getCardinality()
                    - allocation.seated().getCardinality();
            if (waiting > 0 && allocation.isInTerm())
                matters.add(matter(
                        Matter.Topic.SEATS,
                        "waiting",
                        allocation.plan(),
                        allocation.plan().name() + " has no seat free, and " + accounts(waiting, " waits", " wait")
                                + ".",
                        Optional.empty()));
        }
        for (SeatFinding finding : SeatFinding.ofTerms(
                inquiry.moment().entitlements(), inquiry.question().at()))
            matters.add(matter(
                    finding instanceof SeatFinding.Ending ? Matter.Topic.ENDING : Matter.Topic.SEATS,
                    "term",
                    finding.plan(),
                    told(finding, inquiry).words() + ".",
                    finding instanceof SeatFinding.Ending e ? Optional.of(e.at()) : Optional.empty()));
        return matters;
    }

    private static Matter matter(Matter.Topic topic, String what, Plan plan, String words, Optional<Instant> due) {
        return new Matter(topic, what + ":" + plan.id() + ":" + words.hashCode(), words, "/seats/" + plan.id(), due);
    }

    private static Worth told(SeatFinding finding, Inquiry inquiry) {
        String id = finding.plan().id();
        String name = finding.plan().name();
        var wording = inquiry.wording();
        if (finding instanceof SeatFinding.Double d)
            return new Worth(
                    id,
                    both(d.accounts()) + name + " and " + d.other().name() + ", which carries the same and more: "
                            + seats(d.accounts().getCardinality()) + " of " + name + " could be given back"
                            + saved(d.plan(), d.accounts()),
                    "Give them back",
                    take(d.plan(), d.accounts(), inquiry));
        if (finding instanceof SeatFinding.Unused u)
            return new Worth(
                    id,
                    accounts(u.accounts().getCardinality(), " has", " have") + " a seat of " + name
                            + " and " + (u.accounts().getCardinality() == 1 ? "was" : "were") + " not seen for "
                            + SeatFinding.LONG.toDays() + " days" + saved(u.plan(), u.accounts()),
                    "Give them back",
                    take(u.plan(), u.accounts(), inquiry));
        if (finding instanceof SeatFinding.Ending e)
            return new Worth(
                    id,
                    name + " ends on " + wording.day(e.at()) + ": "
                            + (e.losing().isEmpty()
                                    ? "nobody loses anything by it"
                                    : accounts(e.losing().getCardinality(), " loses", " lose")
                                            + " what no other seat of theirs carries"),
                    "Let it run on",
                    Optional.of(amend(id)
                            .<ObjectNode>set("members", Json.NODES.objectNode().putNull("ends"))));
        if (finding instanceof SeatFinding.Expired e)
            return new Worth(
                    id,
                    name + " expired on " + wording.day(e.at()) + ", and "
                            + accounts(e.accounts().getCardinality(), " still wants it", " still want it"),
                    "Delete the plan",
                    Optional.of(
                            Json.NODES.objectNode().put("kind", "remove-plan").put("plan", id)));
        SeatFinding.IdleRule idle = (SeatFinding.IdleRule) finding;
        ObjectNode remove = Json.NODES.objectNode().put("kind", "remove-rule").put("plan", id);
        remove.set("rule", finding.plan().source().path("rules").get(idle.rule() - 1));
        return new Worth(
                id,
                "Rule " + idle.rule() + " of " + name + ", for "
                        + Plans.name(
                                inquiry,
                                finding.plan()
                                        .rules()
                                        .get(idle.rule() - 1)
                                        .assignment()
                                        .target())
                        + ", brings in nobody",
                "Take the rule away",
                Optional.of(remove));
    }

    private static ObjectNode amend(String plan) {
        return Json.NODES.objectNode().put("kind", "amend-plan").put("plan", plan);
    }

    private static String both(RoaringBitmap accounts) {
        return accounts(accounts.getCardinality(), " holds both ", " hold both ");
    }

    private static String accounts(int count, String does, String doAll) {
        return count == 1 ? "one account" + does : String.format("%,d accounts", count) + doAll;
    }

    private static String seats(int count) {
        return count == 1 ? "one seat" : String.format("%,d seats", count);
    }

    private static String saved(Plan plan, RoaringBitmap accounts) {
        return Plans.price(plan)
                .filter(p -> p.amount().matches("\\d+(\\.\\d+)?"))
                .map(p -> ", "
                        + String.format(
                                "%,.2f",
                                new BigDecimal(p.amount()).multiply(BigDecimal.valueOf(accounts.getCardinality())))
                        + " " + p.currency() + " a " + p.per())
                .orElse("");
    }

    private static Optional<JsonNode> take(Plan plan, RoaringBitmap seats, Inquiry inquiry) {
        if (seats.getCardinality() > MOST_TAKEN) return Optional.empty();
        ObjectNode edit =
                Json.NODES.objectNode().put("kind", TakeSeats.KIND.name()).put("plan", plan.id());
        ArrayNode accounts = edit.putArray("accounts");
        seats.forEach((int n) -> accounts.add(inquiry.directory().account(n).id()));
        return Optional.of(edit);
    }
}
