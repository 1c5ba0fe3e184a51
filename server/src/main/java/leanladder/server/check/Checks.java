package leanladder.server.check;

import java.io.IOException;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.atomic.AtomicBoolean;
import leanladder.catalogue.Setting;
import leanladder.estate.Account;
import leanladder.estate.Target;
import leanladder.resolve.Question;
import leanladder.server.access.ClientSecret;
import leanladder.server.live.Moment;
import leanladder.server.live.Snapshot;
import leanladder.server.live.Timeline;
import leanladder.store.Store;
import leanladder.store.checks.ArrivalCheck;
import leanladder.store.db.Request;
import org.roaringbitmap.RoaringBitmap;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Looks whether what is in force has arrived: when a check is due, the suite is asked what it has taken up, and what it says is compared with
 * what is in force. It is done by the one server that holds the clock, on a thread of its own; where the suite does not answer, it is asked again.
 */
public final class Checks implements AutoCloseable {
    private static final Logger LOG = LoggerFactory.getLogger(Checks.class);
    private static final int AT_ONCE = 20;
    private static final int MOST_ACCOUNTS = 1000;
    private static final String ACTOR = "the clock";

    private final Store store;
    private final Timeline timeline;
    private final Optional<SuiteReport> suite;
    private final AtomicBoolean looking = new AtomicBoolean();
    private final ExecutorService thread = Executors.newSingleThreadExecutor(run -> {
        Thread made = new Thread(run, "checks");
        made.setDaemon(true);
        return made;
    });

    /** @param suite the address of the suite; without one, checks wait */
    public Checks(Store store, Timeline timeline, Optional<String> suite, ClientSecret secret) {
        this.store = store;
        this.timeline = timeline;
        this.suite = suite.map(address -> SuiteReport.at(address, secret));
    }

    /** Looks at what is due, unless that is being done. */
    public void lookDue() {
        if (suite.isEmpty() || looking.getAndSet(true)) return;
        thread.execute(() -> {
            try {
                for (ArrivalCheck check : store.checks().due(timeline.now(), AT_ONCE)) look(check, suite.get());
            } catch (IOException away) {
                LOG.debug("The suite does not answer: {}", away.getMessage());
            } catch (RuntimeException failed) {
                LOG.warn("A check could not be looked at; it is tried again", failed);
            } finally {
                looking.set(false);
            }
        });
    }

    private void look(ArrivalCheck check, SuiteReport report) throws IOException {
        Snapshot snapshot = timeline.present();
        Instant at = timeline.now();
        Optional<Setting> setting = snapshot.estate().catalogue().setting(check.setting());
        Optional<RoaringBitmap> accounts = accounts(snapshot, check.who());
        if (setting.isEmpty() || accounts.isEmpty()) {
            note(check, ArrivalCheck.CheckState.MISSING, at, "Whom or what it was about is no more.");
            return;
        }
        Moment moment = snapshot.moment(Question.at(at));
        List<String> ids = new ArrayList<>();
        Map<String, Account> byId = new HashMap<>();
        accounts.get().stream().limit(MOST_ACCOUNTS).forEach(n -> {
            Account account = snapshot.directory().account(n);
            ids.add(account.id());
            byId.put(account.id(), account);
        });
        Map<String, SuiteReport.Taken> taken = report.of(check.setting(), ids);
        Found found = new Found();
        for (String id : ids) {
            SuiteReport.Taken page = taken.get(id);
            String wanted = moment.climber(byId.get(id))
                    .outcome(setting.get())
                    .value()
                    .json()
                    .toString();
            if (page == null) found.unknown++;
            else if (page.value().toString().equals(wanted)) found.arrived++;
            else if (page.waitsFor().isPresent())
                found.waiting.merge(page.waitsFor().get(), 1, Integer::sum);
            else found.other++;
        }
        note(
                check,
                found.arrived == ids.size() ? ArrivalCheck.CheckState.ARRIVED : ArrivalCheck.CheckState.MISSING,
                at,
                found.words(ids.size(), accounts.get().getCardinality()));
    }

    private void note(ArrivalCheck check, ArrivalCheck.CheckState state, Instant at, String words) {
        store.checks().found(Request.by(ACTOR, at), check.id(), state, at, words);
    }

    /** The active accounts of a target; empty where it is no more. */
    static Optional<RoaringBitmap> accounts(Snapshot snapshot, String who) {
        Optional<Target> target = who.equals("everyone") ? Optional.of(new Target.Whole()) : Target.of(who);
        return target.filter(t -> isThere(snapshot, t))
                .map(t -> RoaringBitmap.and(
                        snapshot.directory().holding(t), snapshot.directory().active()));
    }

    private static boolean isThere(Snapshot snapshot, Target target) {
        if (target instanceof Target.OfAccount a)
            return snapshot.estate().account(a.id()).isPresent();
        if (target instanceof Target.OfGroup g)
            return snapshot.estate().group(g.id()).isPresent();
        if (target instanceof Target.OfUnit u)
            return snapshot.estate().unit(u.id()).isPresent();
        return target instanceof Target.Whole;
    }

    /** What was found, counted. */
    private static final class Found {
        int arrived;
        int unknown;
        int other;
        final Map<String, Integer> waiting = new HashMap<>();

        String words(int asked, int all) {
            List<String> why = new ArrayList<>();
            for (String deed : List.of("refresh", "sign-in", "restart")) {
                int n = waiting.getOrDefault(deed, 0);
                if (n > 0)
                    why.add(number(n) + (n == 1 ? " has not " : " have not ")
                            + (deed.equals("refresh")
                                    ? "refreshed"
                                    : deed.equals("sign-in") ? "signed in" : "restarted")
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

    @Override
    public void close() {
        thread.shutdownNow();
    }
}
