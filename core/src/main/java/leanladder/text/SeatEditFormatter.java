package leanladder.text;

import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;
import leanladder.edit.seat.AddPurchase;
import leanladder.edit.seat.AssignSeats;
import leanladder.edit.seat.MoveRule;
import leanladder.edit.seat.PlanEdit;
import leanladder.edit.seat.PutRule;
import leanladder.edit.seat.ReducePurchase;
import leanladder.edit.seat.RemoveRule;
import leanladder.edit.seat.SeatAssignmentEdit;
import leanladder.estate.Plan;
import leanladder.estate.Purchase;
import leanladder.estate.read.EntityParsers;
import leanladder.json.Defects;
import leanladder.json.JsonCursor;
import leanladder.workingcopy.EntityType;
import leanladder.workingcopy.Overlay;

/** Describes edits of licence plans: purchases, rules, and seats by name. */
final class SeatEditFormatter {
    private static final int FEW = 3;

    private final EstateFormatter estateFormatter;

    SeatEditFormatter(EstateFormatter estateFormatter) {
        this.estateFormatter = estateFormatter;
    }

    String format(PlanEdit edit, Overlay before) {
        String plan = before.name(EntityType.PLAN, edit.plan());
        Plan current = edit.planOn(before);
        if (edit instanceof AddPurchase add) {
            Purchase purchase = EntityParsers.purchase(cursor(add.purchase())).orElseThrow();
            return seats(purchase.seats()) + " of " + plan + (purchase.seats() == 1 ? " is" : " are") + " bought"
                    + estateFormatter.window(purchase.window());
        }
        if (edit instanceof ReducePurchase reduce) {
            int seats = reduce.seats().intValueExact();
            return seats(seats) + " of " + plan + (seats == 1 ? " is" : " are") + " returned from "
                    + estateFormatter.moment(reduce.fromInstant()) + " on";
        }
        if (edit instanceof PutRule put) return plan + " " + rule(put.rule(), current, before);
        if (edit instanceof RemoveRule remove) return plan + " no longer " + rule(remove.rule(), current, before);
        if (edit instanceof MoveRule move)
            return "The rule of " + plan + " that " + rule(move.rule(), current, before) + " moves "
                    + Optional.ofNullable(move.above())
                            .map(above -> "above the one that " + rule(above, current, before))
                            .orElse("to the end");
        SeatAssignmentEdit seats = (SeatAssignmentEdit) edit;
        boolean one = seats.accounts().size() == 1;
        return accounts(seats.accounts(), before)
                + (edit instanceof AssignSeats
                        ? (one ? " is" : " are") + " given a seat of " + plan
                        : (one ? " returns" : " return") + " the seat of " + plan);
    }

    private static String seats(long count) {
        return count == 1 ? "one seat" : count + " seats";
    }

    private static String accounts(List<String> accounts, Overlay before) {
        return accounts.size() > FEW
                ? accounts.size() + " accounts"
                : accounts.stream()
                        .map(account -> before.name(EntityType.ACCOUNT, account))
                        .collect(Collectors.joining(", "));
    }

    /** What an edit holds that was found to fit. */
    private static JsonCursor cursor(ObjectNode node) {
        return new JsonCursor(node, "", new Defects());
    }

    private String rule(ObjectNode written, Plan plan, Overlay before) {
        Plan.Rule rule =
                EntityParsers.rule(cursor(written), plan, before.reader()).orElseThrow();
        return (rule.assignment().include() ? "includes " : "excepts ")
                + before.name(rule.assignment().target())
                + estateFormatter.window(rule.assignment().window())
                + (rule.off().isEmpty()
                        ? ""
                        : " without "
                                + rule.off().stream().map(before::component).collect(Collectors.joining(" and ")));
    }

    PluralText count() {
        return new PluralText("one licence plan is edited", "# edits of licence plans");
    }
}
