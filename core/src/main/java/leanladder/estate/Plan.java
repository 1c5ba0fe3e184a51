package leanladder.estate;

import java.time.Instant;
import java.util.List;
import java.util.Set;
import leanladder.catalogue.Kind;

/**
 * A licence plan (resolution.md, section 6).
 *
 * @param seats how many accounts can be seated, 0 or more
 * @param term while it lasts, a seat carries the components
 * @param components ids of the entitlements that a seat carries
 * @param kinds only accounts of these can have a seat
 * @param rules in order; the order decides who claims first
 * @param holders who holds a seat already; each account once
 */
public record Plan(
        String id,
        String name,
        int seats,
        Window term,
        List<String> components,
        Set<Kind> kinds,
        List<Rule> rules,
        List<Holder> holders) {

    /** Says who wants a seat; an include may leave components out. */
    public record Rule(Assignment assignment, Set<String> off) {}

    /** An account that holds a seat, and since when. */
    public record Holder(String account, Instant granted) {}

    /** The rules as assignments, in their order. */
    public List<Assignment> assignments() {
        return rules.stream().map(Rule::assignment).toList();
    }
}
