package leanladder.server.state;

import java.time.Instant;
import java.util.List;
import java.util.NavigableSet;
import java.util.Optional;
import java.util.TreeSet;
import leanladder.estate.Account;
import leanladder.estate.Assignment;
import leanladder.estate.Estate;
import leanladder.estate.Policy;
import leanladder.workingcopy.WriteSet;

/**
 * The instants at which something begins or ends by itself: windows, terms, purchases, openings and consents. Between two of them nothing changes
 * without a publish.
 */
final class TransitionTimes {
    private static final int MOST_LATER = 1000;

    private final TreeSet<Instant> ofPolicies;
    private final TreeSet<Instant> ofAccounts;
    /** Those of consents that came since, so that the many need not be copied for each. */
    private final TreeSet<Instant> ofAccountsLater;

    private final TreeSet<Instant> ofPlans;
    private final TreeSet<Instant> ofReleases;

    private TransitionTimes(
            TreeSet<Instant> ofPolicies,
            TreeSet<Instant> ofAccounts,
            TreeSet<Instant> ofAccountsLater,
            TreeSet<Instant> ofPlans,
            TreeSet<Instant> ofReleases) {
        this.ofPolicies = ofPolicies;
        this.ofAccounts = ofAccounts;
        this.ofAccountsLater = ofAccountsLater;
        this.ofPlans = ofPlans;
        this.ofReleases = ofReleases;
    }

    /** Of a whole estate; linear in it. */
    static TransitionTimes compute(Estate estate) {
        TreeSet<Instant> accounts = new TreeSet<>();
        for (Account account : estate.accounts())
            if (!account.consents().isEmpty())
                account.consents().forEach(c -> c.edges().forEach(accounts::add));
        return new TransitionTimes(ofPolicies(estate), accounts, new TreeSet<>(), ofPlans(estate), ofReleases(estate));
    }

    private static TreeSet<Instant> ofReleases(Estate estate) {
        TreeSet<Instant> edges = new TreeSet<>();
        estate.releases().forEach(r -> r.edges().forEach(edges::add));
        return edges;
    }

    private static TreeSet<Instant> ofPlans(Estate estate) {
        TreeSet<Instant> edges = new TreeSet<>();
        estate.plans().forEach(p -> {
            p.term().edges().forEach(edges::add);
            p.edges().forEach(edges::add);
        });
        return edges;
    }

    private static TreeSet<Instant> ofPolicies(Estate estate) {
        TreeSet<Instant> edges = new TreeSet<>();
        for (Policy policy : estate.policies())
            for (Assignment a : policy.assignments()) a.window().edges().forEach(edges::add);
        return edges;
    }

    /** Of an edited estate. The edges of consents that are no more stay, which does no harm: nothing differs across them. */
    TransitionTimes after(Estate edited, WriteSet edits) {
        TreeSet<Instant> later = edits.accounts().isEmpty() ? ofAccountsLater : new TreeSet<>(ofAccountsLater);
        for (String id : edits.accounts())
            for (var consent : edited.account(id).map(Account::consents).orElse(List.of()))
                consent.edges().filter(edge -> !ofAccounts.contains(edge)).forEach(later::add);
        TreeSet<Instant> all = ofAccounts;
        if (later.size() > MOST_LATER) {
            all = new TreeSet<>(ofAccounts);
            all.addAll(later);
            later = new TreeSet<>();
        }
        return new TransitionTimes(
                edits.policies().isEmpty() ? ofPolicies : ofPolicies(edited),
                all,
                later,
                edits.plans().isEmpty() ? ofPlans : ofPlans(edited),
                edits.releases().isEmpty() ? ofReleases : ofReleases(edited));
    }

    private List<TreeSet<Instant>> all() {
        return List.of(ofPolicies, ofAccounts, ofAccountsLater, ofPlans, ofReleases);
    }

    /** The last edge until then. */
    Optional<Instant> until(Instant at) {
        Instant last = null;
        for (TreeSet<Instant> edges : all()) {
            Instant floor = edges.floor(at);
            if (floor != null && (last == null || floor.isAfter(last))) last = floor;
        }
        return Optional.ofNullable(last);
    }

    /** The edges after the one instant and before the other, the earliest first. */
    NavigableSet<Instant> between(Instant from, Instant before) {
        TreeSet<Instant> between = new TreeSet<>();
        if (from.isBefore(before))
            for (TreeSet<Instant> edges : all()) between.addAll(edges.subSet(from, false, before, false));
        return between;
    }

    /** Whether there is an edge after the one instant and not after the other. */
    boolean isBetween(Instant from, Instant to) {
        return until(to).filter(edge -> edge.isAfter(from)).isPresent();
    }
}
