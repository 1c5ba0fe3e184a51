package leanladder.server.check;

import com.fasterxml.jackson.databind.JsonNode;
import java.io.IOException;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import leanladder.catalogue.Setting;
import leanladder.estate.Account;
import leanladder.estate.Target;
import leanladder.resolve.EvaluationContext;
import leanladder.server.access.ClientSecret;
import leanladder.server.state.InstantResolution;
import leanladder.server.state.Snapshot;
import leanladder.server.state.Timeline;
import leanladder.settle.SettleTime;
import leanladder.store.Store;
import leanladder.store.checks.ArrivalCheck;
import leanladder.store.db.WriteRequest;
import org.roaringbitmap.PeekableIntIterator;
import org.roaringbitmap.RoaringBitmap;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Looks whether what is in force has arrived: when a check is due, the suite is asked what it has taken up, and what it says is compared with
 * what is in force. It is done by the leader as a task of the scheduler; where the suite does not answer, it is asked again.
 */
public final class DeliveryChecker {
    private static final Logger LOG = LoggerFactory.getLogger(DeliveryChecker.class);
    private static final int AT_ONCE = 20;
    private static final int MOST_ACCOUNTS = 20_000;
    private static final int ASKED_AT_ONCE = 500;
    private static final String ACTOR = "the clock";

    private final Store store;
    private final Timeline timeline;
    private final Optional<SuiteClient> suite;

    /** @param suite the address of the suite; without one, checks wait */
    public DeliveryChecker(Store store, Timeline timeline, Optional<String> suite, ClientSecret secret) {
        this.store = store;
        this.timeline = timeline;
        this.suite = suite.map(address -> SuiteClient.at(address, secret));
    }

    /** Looks at what is due. Where the suite does not answer, it is asked again the next time. */
    public void lookDue() {
        if (suite.isEmpty()) return;
        try {
            for (ArrivalCheck check : store.checks().due(timeline.now(), AT_ONCE)) look(check, suite.get());
        } catch (IOException away) {
            LOG.debug("The suite does not answer: {}", away.getMessage());
        }
    }

    private void look(ArrivalCheck check, SuiteClient report) throws IOException {
        Snapshot snapshot = timeline.present();
        Instant at = timeline.now();
        Optional<Setting> setting = snapshot.estate().catalogue().setting(check.setting());
        Optional<RoaringBitmap> accounts = accounts(snapshot, check.who());
        boolean isThere = check.workspace()
                .map(w -> snapshot.estate().workspace(w).isPresent())
                .orElse(true);
        if (setting.isEmpty() || accounts.isEmpty() || !isThere) {
            note(check, ArrivalCheck.CheckState.MISSING, at, "Whom or what it was about is no more.");
            return;
        }
        InstantResolution instantResolution = snapshot.resolutionAt(new EvaluationContext(at, check.workspace()));
        CheckResult checkResult = new CheckResult();
        List<Account> asked = new ArrayList<>();
        PeekableIntIterator numbers = accounts.get().getIntIterator();
        int all = accounts.get().getCardinality();
        int most = Math.min(all, MOST_ACCOUNTS);
        for (int i = 1; i <= most; i++) {
            asked.add(snapshot.directory().account(numbers.next()));
            if (asked.size() < ASKED_AT_ONCE && i < most) continue;
            Map<String, SuiteClient.ReportedValue> taken = report.of(
                    check.setting(),
                    check.workspace(),
                    asked.stream().map(Account::id).toList());
            for (Account account : asked)
                checkResult.count(
                        Optional.ofNullable(taken.get(account.id())),
                        instantResolution
                                .climber(account)
                                .outcome(setting.get())
                                .value()
                                .delivered(account.language()));
            asked.clear();
        }
        note(
                check,
                checkResult.arrived == most ? ArrivalCheck.CheckState.ARRIVED : ArrivalCheck.CheckState.MISSING,
                at,
                checkResult.words(most, all));
    }

    private void note(ArrivalCheck check, ArrivalCheck.CheckState state, Instant at, String words) {
        store.checks().found(WriteRequest.by(ACTOR, at), check.id(), state, at, words);
    }

    /** The active accounts of a target; empty where it is no more. */
    static Optional<RoaringBitmap> accounts(Snapshot snapshot, String who) {
        return Target.asked(who)
                .filter(t -> snapshot.estate().has(t) && !t.isPlace())
                .map(t -> RoaringBitmap.and(
                        snapshot.directory().holding(t), snapshot.directory().active()));
    }

    /** What was found, counted. */
    private static final class CheckResult {
        int arrived;
        int unknown;
        int other;
        final Map<String, Integer> waiting = new HashMap<>();

        void count(Optional<SuiteClient.ReportedValue> page, JsonNode wanted) {
            if (page.isEmpty()) unknown++;
            else if (page.get().value().toString().equals(wanted.toString())) arrived++;
            else if (page.get().waitsFor().isPresent())
                waiting.merge(page.get().waitsFor().get(), 1, Integer::sum);
            else other++;
        }

        String words(int asked, int all) {
            List<String> why = new ArrayList<>();
            for (SettleTime.RequiredUserAction action : SettleTime.RequiredUserAction.values()) {
                String deed = action.word();
                int n = waiting.getOrDefault(deed, 0);
                if (n > 0)
                    why.add(number(n) + (n == 1 ? " has not " : " have not ")
                            + switch (action) {
                                case REFRESH -> "refreshed";
                                case SIGN_IN -> "signed in";
                                case RESTART -> "restarted";
                                case UPDATE -> "updated the program";
                                case CLEAR -> "cleared what the app has stored";
                            }
                            + " since");
            }
            if (other > 0) why.add(number(other) + (other == 1 ? " shows" : " show") + " something else");
            if (unknown > 0) why.add(number(unknown) + (unknown == 1 ? " is" : " are") + " not known to the suite");
            String of =
                    asked < all ? String.format("of the first %,d of %,d", asked, all) : String.format("of %,d", all);
            return String.format("Arrived for %,d ", arrived)
                    + of
                    + (why.isEmpty() ? "." : "; " + String.join(", ", why) + ".");
        }

        private static String number(int n) {
            return n == 1 ? "one" : n == 2 ? "two" : n == 3 ? "three" : String.format("%,d", n);
        }
    }
}
