package leanladder.estate;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.math.BigDecimal;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Stream;
import leanladder.catalogue.AccountKind;

/**
 * A licence plan (resolution.md, section 6). Who holds its seats stands in the ledger, not here.
 *
 * @param purchases the seats it has; a plan with a plain number of seats has one purchase that holds always
 * @param term while it lasts, a seat carries the components
 * @param components ids of the entitlements that a seat carries
 * @param kinds only accounts of these can have a seat
 * @param rules in order; the order decides who claims first
 * @param source the plan as the estate file writes it, without its holders. Not to be changed
 */
public record Plan(
        String id,
        String name,
        List<Purchase> purchases,
        TimeWindow term,
        List<String> components,
        Set<AccountKind> kinds,
        List<Rule> rules,
        ObjectNode source) {

    /** Says who wants a seat; an include may leave components out. */
    public record Rule(Assignment assignment, Set<String> off) {}

    /**
     * An account that holds a seat, and since when, as a file lists it.
     *
     * @param source how the file writes it, where it says more than that or the instant in another way
     */
    public record Holder(String account, Instant granted, Optional<ObjectNode> source) {}

    /** The rules as assignments, in their order. */
    public List<Assignment> assignments() {
        return rules.stream().map(Rule::assignment).toList();
    }

    /** How many accounts can be seated at an instant. */
    public int seats(Instant at) {
        long seats = 0;
        for (Purchase purchase : purchases) if (purchase.window().holds(at)) seats += purchase.seats();
        return (int) Math.min(Integer.MAX_VALUE, seats);
    }

    /** What a seat costs in each period. */
    public record Price(BigDecimal amount, String currency, String per) {
        /** Whether both are in one currency, for one period. */
        public boolean isIn(Price other) {
            return currency.equals(other.currency) && per.equals(other.per);
        }

        /** What so many seats cost. */
        public BigDecimal times(int seats) {
            return amount.multiply(BigDecimal.valueOf(seats));
        }
    }

    /** What a seat costs, where that is known and a number. */
    public Optional<Price> price() {
        JsonNode price = source.path("price");
        try {
            return price.isObject()
                    ? Optional.of(new Price(
                            new BigDecimal(price.path("amount").asText()),
                            price.path("currency").asText(),
                            price.path("per").asText()))
                    : Optional.empty();
        } catch (NumberFormatException noNumber) {
            return Optional.empty();
        }
    }

    /** The instants at which its seats can pass on by themselves; its term is none, for it moves nobody. */
    public Stream<Instant> edges() {
        return Stream.concat(
                        purchases.stream().map(Purchase::window),
                        rules.stream().map(r -> r.assignment().window()))
                .flatMap(TimeWindow::edges);
    }
}
