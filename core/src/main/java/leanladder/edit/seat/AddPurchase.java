package leanladder.edit.seat;

import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.Set;
import leanladder.edit.EditKind;
import leanladder.edit.Member;
import leanladder.estate.read.EntityParsers;
import leanladder.json.JsonCursor;
import leanladder.workingcopy.EntityType;
import leanladder.workingcopy.Overlay;

/** Buys seats of a plan, for good or for a while; a plan with a plain number of seats has purchases from then on. */
public record AddPurchase(
        @Member(names = "plan") String plan,
        @Member(schema = "PurchaseForm") ObjectNode purchase) implements PlanEdit {
    public static final EditKind KIND =
            EditKind.of("buy-seats", EntityType.PLAN.duty(), AddPurchase.class, "buys seats of a plan");

    @Override
    public AddPurchase apply(Overlay on, JsonCursor at) {
        if (EntityParsers.purchase(at.member("purchase").orElseThrow()).isEmpty()) return this;
        PurchaseList purchases = new PurchaseList(planOn(on));
        ArrayNode all = purchases.written();
        all.add(purchase);
        on.amend(EntityType.PLAN, plan, purchases.members(all));
        return this;
    }

    @Override
    public Set<String> paths() {
        return Set.of(path("purchases"));
    }
}
