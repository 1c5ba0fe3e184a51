package leanladder.server.request;

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
    static final int MOST_OPEN = 1000;

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
    }

    private void look(Snapshot present, String by, Instant at) {
        List<FeatureRequest> granted = new ArrayList<>();
        for (FeatureRequest request : store.requests().open(MOST_OPEN))
            if (isGranted(present, at, request)) granted.add(request);
        if (granted.isEmpty()) return;
        List<Long> ids = granted.stream().map(FeatureRequest::id).toList();
        store.requests().grant(WriteRequest.by(by, at), ids, by, at, present.change());
        for (FeatureRequest request : granted) write(store, mailer, present, request.id(), at);
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
        Outcome outcome = snapshot.moment(new EvaluationContext(at, workspace))
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
                .of(snapshot.moment(evaluationContext).climber(account).climb(setting));
    }
}
