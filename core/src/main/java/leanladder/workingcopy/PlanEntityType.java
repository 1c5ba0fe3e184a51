package leanladder.workingcopy;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.StreamSupport;
import leanladder.catalogue.AccountKind;
import leanladder.estate.Estate;
import leanladder.estate.Plan;
import leanladder.estate.read.EntityParsers;
import leanladder.estate.read.Section;
import leanladder.json.Instants;
import leanladder.json.JsonCursor;
import leanladder.text.EstateFormatter;

/** Licence plans. Who holds their seats stands in the ledger, which moves by itself and is never edited. */
final class PlanEntityType extends EntityType<Plan> {
    PlanEntityType() {
        super(
                "plan",
                Section.PLANS,
                Set.of("name", "seats", "purchases", "starts", "ends", "components", "kinds", "rules", "price", "note"),
                Duty.SEATS);
    }

    @Override
    public Optional<Plan> find(Estate estate, String id) {
        return estate.plan(id);
    }

    @Override
    public Optional<Plan> read(JsonCursor jsonCursor, Overlay on) {
        return EntityParsers.plan(jsonCursor, on.base().estate().catalogue(), on.reader());
    }

    @Override
    public String name(Plan plan) {
        return plan.name();
    }

    @Override
    public ObjectNode shortBody(Plan plan) {
        return plan.source();
    }

    @Override
    public void check(JsonCursor whole, Overlay on) {
        whole.member("holders")
                .ifPresent(
                        h -> h.defect(
                                "cannot be written by an edit: the ledger moves by itself. Give a seat by a rule, or load an estate file"));
        read(whole, on);
        notBlank(whole, "name");
    }

    @Override
    public String newWords(ObjectNode body, Overlay on) {
        return body.path("name").asText() + " is a new licence plan with " + seats(body);
    }

    private static String seats(JsonNode body) {
        long seats = body.path("seats").asLong();
        for (JsonNode purchase : body.path("purchases"))
            seats += purchase.path("seats").asLong();
        return seats == 1 ? "one seat" : seats + " seats";
    }

    @Override
    public String amendedWords(String member, JsonNode value, Overlay on, EstateFormatter estateFormatter) {
        return switch (member) {
            case "seats" -> value.isNull() ? "has its seats by purchases" : "has " + value.asText() + " seats";
            case "purchases" -> value.isNull() ? "has a plain number of seats" : "has other purchases";
            case "rules" -> "has other rules";
            case "starts" ->
                value.isNull() ? "has no start of its term" : "starts on " + moment(value, estateFormatter);
            case "ends" -> value.isNull() ? "does not end any more" : "ends on " + moment(value, estateFormatter);
            case "components" -> "carries " + names(value, on);
            case "kinds" ->
                value.isNull()
                        ? "is for accounts of all kinds"
                        : "is for "
                                + StreamSupport.stream(value.spliterator(), false)
                                        .map(k -> AccountKind.BY_WORD.get(k.asText()))
                                        .map(estateFormatter::kind)
                                        .map(k -> k.equals("person") ? "people" : k + "s")
                                        .collect(Collectors.joining(", "));
            case "price" ->
                value.isNull()
                        ? "has no price any more"
                        : "costs " + value.path("amount").asText() + " "
                                + value.path("currency").asText() + " a seat each "
                                + value.path("per").asText();
            default -> super.amendedWords(member, value, on, estateFormatter);
        };
    }

    private static String moment(JsonNode value, EstateFormatter estateFormatter) {
        return Instants.instant(value.asText()).map(estateFormatter::moment).orElse(value.asText());
    }

    private static String names(JsonNode components, Overlay on) {
        return components.isEmpty()
                ? "nothing"
                : StreamSupport.stream(components.spliterator(), false)
                        .map(c -> on.component(c.asText()))
                        .collect(Collectors.joining(", "));
    }

    @Override
    public WriteSet footprint(String id, Optional<ObjectNode> members, Overlay before) {
        return WriteSet.ofPlan(id);
    }
}
