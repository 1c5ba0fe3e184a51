package leanladder.server.seat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.StreamSupport;
import leanladder.edit.seat.AddPurchase;
import leanladder.edit.seat.PutRule;
import leanladder.edit.session.EditSession;
import leanladder.estate.Account;
import leanladder.estate.Estate;
import leanladder.estate.Plan;
import leanladder.estate.Purchase;
import leanladder.estate.Target;
import leanladder.estate.read.EntityParsers;
import leanladder.json.Defects;
import leanladder.json.Instants;
import leanladder.json.Json;
import leanladder.json.JsonCursor;
import leanladder.server.csvimport.CsvColumns;
import leanladder.server.csvimport.CsvLines.Line;
import leanladder.server.csvimport.ImportReport.RefusedLine;
import leanladder.server.csvimport.ImportReport.Verdict;
import leanladder.workingcopy.EntityType;

/**
 * Reads lines about a plan: rules, or purchases. What a line says and the plan has already stays as it is; the rest is put after it, in
 * the order of the file. A line takes nothing away.
 */
final class PlanCsvImport {
    private static final int MOST_SEATS = 100_000_000;

    private final Estate estate;
    private final EditSession editSession;
    private final String plan;
    private final Set<PurchaseTotal> met = new HashSet<>();
    private final Map<String, Target> byAddress = new HashMap<>();

    /**
     * A reader of the lines of one file.
     *
     * @param plan its id
     * @param lines all that will be read; the accounts that they name by address are found in one go
     */
    PlanCsvImport(Estate estate, EditSession editSession, String plan, List<Line> lines) {
        this.estate = estate;
        this.editSession = editSession;
        this.plan = plan;
        Set<String> wanted = lines.stream()
                .map(PlanCsvImport::whom)
                .filter(text -> Target.parse(text).isEmpty())
                .map(text -> text.toLowerCase(Locale.ROOT))
                .collect(Collectors.toSet());
        if (wanted.isEmpty()) return;
        for (Account account : estate.accounts()) {
            String address = account.userName().toLowerCase(Locale.ROOT);
            if (wanted.contains(address)) byAddress.put(address, new Target.AccountTarget(account.id()));
        }
    }

    /** The columns that are read. @param what rules or purchases */
    static CsvColumns columns(String what) {
        return what.equals("rules")
                ? new CsvColumns()
                        .with("kind")
                        .with("target", "whom")
                        .with("off")
                        .with("from")
                        .with("until")
                : new CsvColumns().with("seats").with("from").with("until").with("note");
    }

    private static String whom(Line line) {
        return line.get("target");
    }

    private Plan plan() {
        return editSession.overlay().part(EntityType.PLAN, plan).orElseThrow();
    }

    private ObjectNode edit(String kind) {
        return Json.NODES.objectNode().put("kind", kind).put("plan", plan);
    }

    /** A rule by the columns kind, target, off, from and until. */
    Verdict rule(Line line) {
        String kind = line.get("kind").toLowerCase(Locale.ROOT);
        if (!kind.isEmpty() && !kind.equals("include") && !kind.equals("except"))
            throw new RefusedLine("\"" + kind + "\" in the column kind is neither include nor except.");
        Target target = target(whom(line));
        ObjectNode rule = Json.NODES.objectNode().put(kind.isEmpty() ? "include" : kind, target.text());
        window(line, rule);
        String off = line.get("off");
        if (!off.isEmpty()) {
            ArrayNode components = rule.putArray("off");
            for (String component : off.split("[\\s,;]+")) components.add(component);
        }
        String told = (kind.equals("except") ? "excepts " : "includes ")
                + editSession.overlay().name(target);
        Optional<Plan.Rule> read = EntityParsers.rule(
                new JsonCursor(rule, "", new Defects()),
                plan(),
                editSession.overlay().reader());
        if (read.filter(plan().rules()::contains).isPresent()) return Verdict.same("The plan " + told + " already");
        ObjectNode edit = edit(PutRule.KIND.name());
        edit.set("rule", rule);
        return Verdict.fresh("The plan " + told, edit);
    }

    private Target target(String text) {
        if (text.isEmpty()) throw new RefusedLine("No target stands there.");
        if (text.equalsIgnoreCase("everyone")) return new Target.OrganisationTarget();
        return Target.parse(text)
                .or(() -> Optional.ofNullable(byAddress.get(text.toLowerCase(Locale.ROOT))))
                .orElseThrow(() -> new RefusedLine(
                        "\"" + text + "\" is no target; write everyone, unit:ID, group:ID, account:ID or an address."));
    }

    /** What tells a purchase from others. */
    private record PurchaseTotal(Optional<Purchase> purchase, String note) {
        static PurchaseTotal of(JsonNode written) {
            return new PurchaseTotal(
                    EntityParsers.purchase(new JsonCursor(written, "", new Defects())),
                    written.path("note").asText(""));
        }
    }

    /** A purchase by the columns seats, from, until and note. */
    Verdict purchase(Line line) {
        String seats = line.get("seats");
        if (!seats.matches("\\d{1,9}") || Integer.parseInt(seats) < 1 || Integer.parseInt(seats) > MOST_SEATS)
            throw new RefusedLine("\"" + seats + "\" in the column seats is no number of 1 or more.");
        ObjectNode purchase = Json.NODES.objectNode().put("seats", Integer.parseInt(seats));
        window(line, purchase);
        String note = line.get("note");
        if (!note.isEmpty()) purchase.put("note", note);
        String told = seats.equals("1") ? "One seat" : seats + " seats";
        // A file that was written out and is read again buys nothing twice; two lines that read alike do.
        PurchaseTotal purchaseTotal = PurchaseTotal.of(purchase);
        boolean known = StreamSupport.stream(
                        estate.plan(plan)
                                .orElseThrow()
                                .source()
                                .path("purchases")
                                .spliterator(),
                        false)
                .map(PurchaseTotal::of)
                .anyMatch(purchaseTotal::equals);
        if (known && met.add(purchaseTotal))
            return Verdict.same(told + (seats.equals("1") ? " is" : " are") + " bought so already");
        ObjectNode edit = edit(AddPurchase.KIND.name());
        edit.set("purchase", purchase);
        return Verdict.fresh(told + (seats.equals("1") ? " is" : " are") + " bought", edit);
    }

    /** A day means its beginning where something begins, and its end where it ends, in the organisation's time zone. */
    private void window(Line line, ObjectNode to) {
        for (String bound : List.of("from", "until")) {
            String text = line.get(bound);
            if (text.isEmpty()) continue;
            var zone = estate.organisation().zone();
            var instant = Instants.instant(text)
                    .or(() -> Instants.day(text)
                            .map(day -> (bound.equals("from") ? day : day.plusDays(1))
                                    .atStartOfDay(zone)
                                    .toInstant()));
            to.put(
                    bound,
                    instant.orElseThrow(
                                    () -> new RefusedLine(
                                            "\"" + text + "\" in the column " + bound
                                                    + " is neither a day nor an instant; write it as 2026-11-23 or 2026-11-23T08:00:00Z."))
                            .toString());
        }
    }
}
