package leanladder.text;

import java.util.List;
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
        String plan = before.name(EntityType.PLAN, edit.id());
        if (edit instanceof AddPurchase add)
            return seats(add.purchase().seats()) + " of " + plan
                    + (add.purchase().seats() == 1 ? " is" : " are") + " bought"
                    + estateFormatter.window(add.purchase().window());
        if (edit instanceof ReducePurchase reduce)
            return seats(reduce.seats()) + " of " + plan + (reduce.seats() == 1 ? " is" : " are") + " returned from "
                    + estateFormatter.moment(reduce.from()) + " on";
        if (edit instanceof PutRule put) return plan + " " + rule(put.rule(), before);
        if (edit instanceof RemoveRule remove) return plan + " no longer " + rule(remove.rule(), before);
        if (edit instanceof MoveRule move)
            return "The rule of " + plan + " that " + rule(move.rule(), before) + " moves "
                    + move.above()
                            .map(above -> "above the one that " + rule(above, before))
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

    private String rule(Plan.Rule rule, Overlay before) {
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
