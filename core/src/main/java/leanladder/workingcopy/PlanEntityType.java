package leanladder.workingcopy;

import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.Optional;
import java.util.Set;
import leanladder.estate.Estate;
import leanladder.estate.Plan;
import leanladder.estate.read.EntityParsers;
import leanladder.estate.read.Section;
import leanladder.json.JsonCursor;

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
        return EntityParsers.plan(jsonCursor, on.frame(), on.reader());
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
    public WriteSet footprint(String id, Optional<ObjectNode> members, Overlay before) {
        return WriteSet.ofPlan(id);
    }
}
