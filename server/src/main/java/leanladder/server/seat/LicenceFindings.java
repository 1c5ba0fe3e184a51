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
import leanladder.edit.seat.RevokeSeats;
import leanladder.estate.Plan;
import leanladder.json.Json;
import leanladder.seat.Allocation;
import leanladder.server.http.description.SchemaRef;
import leanladder.server.query.QueryContext;
import leanladder.server.today.TodoItem;
import leanladder.server.usage.UsageReader;
import org.roaringbitmap.RoaringBitmap;

/** What is worth looking at about seats, in words, each with the edit that mends it. */
final class LicenceFindings {
    private static final int MOST_TAKEN = 10_000;

    private LicenceFindings() {}

    /** Something worth looking at. @param mend what the edit does, in words @param edit stages it; null where there is none */
    public record FindingView(String plan, String words, String mend, Optional<@SchemaRef("Edit") JsonNode> edit) {}

    static List<FindingView> findAll(QueryContext queryContext, UsageReader usage) {
        return SeatFinding.findAll(
                        queryContext.instantResolution().entitlements(),
                        queryContext.directory(),
                        queryContext.question().at(),
                        plan -> usage.usersOf(
                                plan,
                                queryContext.estate(),
                                queryContext.directory(),
                                queryContext.question().at()))
                .stream()
                .map(f -> told(f, queryContext))
                .toList();
    }

    /** What cannot wait: plans in whose line somebody stands, and those that end soon or have ended while somebody wants them. */
    static List<TodoItem> today(QueryContext queryContext) {
        List<TodoItem> matters = new ArrayList<>();
        for (Allocation allocation :
                queryContext.instantResolution().entitlements().allocations()) {
            int waiting = allocation.claimants().getCardinality()
                    - allocation.seated().getCardinality();
            if (waiting > 0 && allocation.isInTerm())
                matters.add(matter(
                        TodoItem.Topic.SEATS,
                        "waiting",
                        allocation.plan(),
                        allocation.plan().name() + " has no seat free, and " + accounts(waiting, " waits", " wait")
                                + ".",
                        Optional.empty()));
        }
        for (SeatFinding finding : SeatFinding.ofTerms(
                queryContext.instantResolution().entitlements(),
                queryContext.question().at()))
            matters.add(matter(
                    finding instanceof SeatFinding.EndOfTerm ? TodoItem.Topic.ENDING : TodoItem.Topic.SEATS,
                    "term",
                    finding.plan(),
                    told(finding, queryContext).words() + ".",
                    finding instanceof SeatFinding.EndOfTerm e ? Optional.of(e.at()) : Optional.empty()));
        return matters;
    }

    private static TodoItem matter(TodoItem.Topic topic, String what, Plan plan, String words, Optional<Instant> due) {
        return new TodoItem(topic, what + ":" + plan.id() + ":" + words.hashCode(), words, "/seats/" + plan.id(), due);
    }

    private static FindingView told(SeatFinding finding, QueryContext queryContext) {
        String id = finding.plan().id();
        String name = finding.plan().name();
        var estateFormatter = queryContext.estateFormatter();
        if (finding instanceof SeatFinding.RedundantSeat d)
            return new FindingView(
                    id,
                    both(d.accounts()) + name + " and " + d.other().name() + ", which carries the same and more: "
                            + seats(d.accounts().getCardinality()) + " of " + name + " could be given back"
                            + saved(d.plan(), d.accounts()),
                    "Give them back",
                    take(d.plan(), d.accounts(), queryContext));
        if (finding instanceof SeatFinding.IdleSeats u)
            return new FindingView(
                    id,
                    accounts(u.accounts().getCardinality(), " has", " have") + " a seat of " + name
                            + " and " + (u.accounts().getCardinality() == 1 ? "was" : "were") + " not seen for "
                            + SeatFinding.LONG.toDays() + " days" + saved(u.plan(), u.accounts()),
                    "Give them back",
                    take(u.plan(), u.accounts(), queryContext));
        if (finding instanceof SeatFinding.UnusedSeats u)
            return new FindingView(
                    id,
                    accounts(u.accounts().getCardinality(), " has", " have") + " a seat of " + name
                            + " and used nothing of what it carries for " + UsageReader.RECENT + " days"
                            + saved(u.plan(), u.accounts()),
                    "Give them back",
                    take(u.plan(), u.accounts(), queryContext));
        if (finding instanceof SeatFinding.EndOfTerm e)
            return new FindingView(
                    id,
                    name + " ends on " + estateFormatter.day(e.at()) + ": "
                            + (e.losing().isEmpty()
                                    ? "nobody loses anything by it"
                                    : accounts(e.losing().getCardinality(), " loses", " lose")
                                            + " what no other seat of theirs carries"),
                    "Let it run on",
                    Optional.of(amend(id)
                            .<ObjectNode>set("members", Json.NODES.objectNode().putNull("ends"))));
        if (finding instanceof SeatFinding.PastTerm e)
            return new FindingView(
                    id,
                    name + " expired on " + estateFormatter.day(e.at()) + ", and "
                            + accounts(e.accounts().getCardinality(), " still wants it", " still want it"),
                    "Delete the plan",
                    Optional.of(
                            Json.NODES.objectNode().put("kind", "remove-plan").put("plan", id)));
        SeatFinding.IdleRule idle = (SeatFinding.IdleRule) finding;
        ObjectNode remove = Json.NODES.objectNode().put("kind", "remove-rule").put("plan", id);
        remove.set("rule", finding.plan().source().path("rules").get(idle.rule() - 1));
        return new FindingView(
                id,
                "Rule " + idle.rule() + " of " + name + ", for "
                        + PlanViews.name(
                                queryContext,
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
        return PlanViews.price(plan)
                .filter(p -> p.amount().matches("\\d+(\\.\\d+)?"))
                .map(p -> ", "
                        + String.format(
                                "%,.2f",
                                new BigDecimal(p.amount()).multiply(BigDecimal.valueOf(accounts.getCardinality())))
                        + " " + p.currency() + " a " + p.per())
                .orElse("");
    }

    private static Optional<JsonNode> take(Plan plan, RoaringBitmap seats, QueryContext queryContext) {
        if (seats.getCardinality() > MOST_TAKEN) return Optional.empty();
        ObjectNode edit =
                Json.NODES.objectNode().put("kind", RevokeSeats.KIND.name()).put("plan", plan.id());
        ArrayNode accounts = edit.putArray("accounts");
        seats.forEach(
                (int n) -> accounts.add(queryContext.directory().account(n).id()));
        return Optional.of(edit);
    }
}
