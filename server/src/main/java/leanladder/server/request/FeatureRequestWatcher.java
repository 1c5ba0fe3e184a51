package leanladder.server.request;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.atomic.AtomicReference;
import leanladder.catalogue.Setting;
import leanladder.catalogue.Strictness;
import leanladder.catalogue.Value;
import leanladder.estate.Account;
import leanladder.resolve.EvaluationContext;
import leanladder.resolve.Outcome;
import leanladder.resolve.Visibility;
import leanladder.server.mail.Mailer;
import leanladder.server.query.QueryContext;
import leanladder.server.state.BackgroundScheduler;
import leanladder.server.state.Snapshot;
import leanladder.server.state.Timeline;
import leanladder.settle.SettleTime;
import leanladder.store.Store;
import leanladder.store.db.WriteRequest;
import leanladder.store.requests.FeatureRequest;
import leanladder.text.EndUserReason;
import leanladder.text.EstateFormatter;

/**
 * Notices which requests a published change has granted: whoever asked has what was asked for. Nothing else grants one, and it does not matter
 * by which edit it came.
 */
public final class FeatureRequestWatcher {
    private static final String TIME = "the clock";
    private static final int PAGE = 1000;
    private static final Duration EXPIRY = Duration.ofDays(365);
    private static final String GONE = "What you asked for does not exist any more.";
    private static final String EXPIRED = "Nobody answered it within a year. You can ask again.";

    private final Store store;
    private final Mailer mailer;
    /** Who published last, and when: to whom a request that is found granted is put down. */
    private final AtomicReference<Cause> last = new AtomicReference<>();

    private record Cause(String by, Instant at) {}

    /** Looks after each step of a timeline, and whenever time alters something. */
    public FeatureRequestWatcher(Store store, Timeline timeline, BackgroundScheduler scheduler, Mailer mailer) {
        this.store = store;
        this.mailer = mailer;
        BackgroundScheduler.Task look = scheduler.onRequest("feature requests", () -> {
            Cause cause = last.getAndSet(null);
            if (cause == null) cause = new Cause(TIME, timeline.now());
            look(timeline.present(), cause.by, cause.at);
        });
        timeline.onStep(step -> {
            last.set(new Cause(step.change().author(), step.change().at()));
            look.request();
        });
        scheduler.onTransition("feature requests by time", at -> look.request());
        // Requests expire with no change and at no edge of the estate.
        scheduler.everyOnLeader("expiry of feature requests", Duration.ofHours(1), look::request);
    }

    private void look(Snapshot present, String by, Instant at) {
        long last = 0;
        List<FeatureRequest> page;
        do {
            page = store.requests().open(last, PAGE);
            look(page, present, by, at);
            last = page.isEmpty() ? last : page.get(page.size() - 1).id();
        } while (page.size() == PAGE);
    }

    private void look(List<FeatureRequest> page, Snapshot present, String by, Instant at) {
        List<Long> granted = new ArrayList<>();
        List<Long> gone = new ArrayList<>();
        List<Long> expired = new ArrayList<>();
        for (FeatureRequest request : page)
            if (isGone(present, request)) gone.add(request.id());
            else if (isGranted(present, at, request)) granted.add(request.id());
            else if (request.asked().plus(EXPIRY).isBefore(at)) expired.add(request.id());
        if (!gone.isEmpty()) store.requests().close(WriteRequest.by(TIME, at), gone, GONE);
        if (!expired.isEmpty()) store.requests().close(WriteRequest.by(TIME, at), expired, EXPIRED);
        if (granted.isEmpty()) return;
        store.requests().grant(WriteRequest.by(by, at), granted, by, at, present.change());
        for (long id : granted) write(store, mailer, present, id, at);
    }

    /** Whether the person or the setting of a request was removed. */
    private static boolean isGone(Snapshot snapshot, FeatureRequest request) {
        return snapshot.estate().account(request.account()).isEmpty()
                || snapshot.estate().catalogue().setting(request.setting()).isEmpty();
    }

    /** Writes to the person what became of a request that was just answered. */
    static void write(Store store, Mailer to, Snapshot snapshot, long id, Instant at) {
        FeatureRequest request = store.requests().find(id).orElseThrow();
        Optional<Account> account = snapshot.estate().account(request.account()).filter(Account::active);
        Optional<Setting> setting = snapshot.estate().catalogue().setting(request.setting());
        if (account.isEmpty() || setting.isEmpty()) return;
        FeatureRequestText words = new FeatureRequestText(new EstateFormatter(snapshot.estate(), at), at);
        boolean granted = request.state() == FeatureRequest.RequestState.GRANTED;
        to.write(
                "request:" + id + ":" + request.state().word(),
                account.get(),
                "“" + setting.get().title() + "” " + (granted ? "is there for you" : "was declined"),
                words.of(request, SettleTime.from(setting.get())) + "\n");
    }

    /** Whether the account has what it asked for: the control is there, and the value is the wanted one, or looser. */
    static boolean isGranted(Snapshot snapshot, Instant at, FeatureRequest request) {
        Optional<Account> account = snapshot.estate().account(request.account()).filter(Account::active);
        Optional<Setting> setting = snapshot.estate().catalogue().setting(request.setting());
        if (account.isEmpty() || setting.isEmpty()) return false;
        Optional<String> workspace =
                request.workspace().filter(w -> snapshot.estate().workspace(w).isPresent());
        Outcome outcome = snapshot.resolutionAt(new EvaluationContext(at, workspace))
                .climber(account.get())
                .outcome(setting.get());
        if (Visibility.of(setting.get(), outcome) != Visibility.THERE) return false;
        Optional<Value> wanted = setting.get().type().read(request.wanted(), defect -> {});
        if (wanted.isEmpty() || outcome.value().equals(wanted.get())) return true;
        Optional<Strictness> strictness = setting.get().strictness();
        return strictness.isPresent() && strictness.get().isLooser(outcome.value(), wanted.get());
    }

    /** Why something is not there for a person now, in a sentence for that person. */
    static String why(QueryContext queryContext, Account account, Setting setting, Optional<String> workspace) {
        Snapshot snapshot = queryContext.snapshot();
        EvaluationContext evaluationContext = new EvaluationContext(
                queryContext.question().at(),
                workspace.filter(w -> snapshot.estate().workspace(w).isPresent()));
        return new EndUserReason(queryContext.estateFormatter())
                .of(snapshot.resolutionAt(evaluationContext).climber(account).climb(setting));
    }
}
