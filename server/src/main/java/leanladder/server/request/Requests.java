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
import leanladder.resolve.Outcome;
import leanladder.resolve.Question;
import leanladder.resolve.Shown;
import leanladder.server.draft.Inquiry;
import leanladder.server.live.BackgroundScheduler;
import leanladder.server.live.Snapshot;
import leanladder.server.live.Timeline;
import leanladder.server.mail.Post;
import leanladder.settle.Settles;
import leanladder.store.Store;
import leanladder.store.db.Request;
import leanladder.store.requests.FeatureRequest;
import leanladder.tell.PlainReason;
import leanladder.tell.Wording;

/**
 * Notices which requests a published change has granted: whoever asked has what was asked for. Nothing else grants one, and it does not matter
 * by which edit it came.
 */
public final class Requests {
    private static final String TIME = "the clock";
    static final int MOST_OPEN = 1000;

    private final Store store;
    private final Post post;
    /** Who published last, and when: to whom a request that is found granted is put down. */
    private final AtomicReference<Cause> last = new AtomicReference<>();

    private record Cause(String by, Instant at) {}

    /** Looks after each step of a timeline, and whenever time alters something. */
    public Requests(Store store, Timeline timeline, BackgroundScheduler scheduler, Post post) {
        this.store = store;
        this.post = post;
        BackgroundScheduler.Task look = scheduler.onRequest("feature requests", () -> {
            Cause cause = last.getAndSet(null);
            if (cause == null) cause = new Cause(TIME, timeline.now());
            look(timeline.present(), cause.by, cause.at);
        });
        timeline.whenStepped(step -> {
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
        store.requests().grant(Request.by(by, at), ids, by, at, present.change());
        for (FeatureRequest request : granted) write(store, post, present, request.id(), at);
    }

    /** Writes to the person what became of a request that was just answered. */
    static void write(Store store, Post to, Snapshot snapshot, long id, Instant at) {
        FeatureRequest request = store.requests().find(id).orElseThrow();
        Optional<Account> account = snapshot.estate().account(request.account()).filter(Account::active);
        Optional<Setting> setting = snapshot.estate().catalogue().setting(request.setting());
        if (account.isEmpty() || setting.isEmpty()) return;
        RequestWords words = new RequestWords(new Wording(snapshot.estate(), at), at);
        boolean granted = request.state() == FeatureRequest.RequestState.GRANTED;
        to.write(
                "request:" + id + ":" + request.state().word(),
                account.get(),
                "“" + setting.get().title() + "” " + (granted ? "is there for you" : "was declined"),
                words.of(request, Settles.of(setting.get())) + "\n");
    }

    /** Whether the account has what it asked for: the control is there, and the value is the wanted one, or looser. */
    static boolean isGranted(Snapshot snapshot, Instant at, FeatureRequest request) {
        Optional<Account> account = snapshot.estate().account(request.account()).filter(Account::active);
        Optional<Setting> setting = snapshot.estate().catalogue().setting(request.setting());
        if (account.isEmpty() || setting.isEmpty()) return false;
        Optional<String> workspace =
                request.workspace().filter(w -> snapshot.estate().workspace(w).isPresent());
        Outcome outcome = snapshot.moment(new Question(at, workspace))
                .climber(account.get())
                .outcome(setting.get());
        if (Shown.of(setting.get(), outcome) != Shown.THERE) return false;
        Optional<Value> wanted = setting.get().type().read(request.wanted(), defect -> {});
        if (wanted.isEmpty() || outcome.value().equals(wanted.get())) return true;
        Optional<Strictness> strictness = setting.get().strictness();
        return strictness.isPresent() && strictness.get().isLooser(outcome.value(), wanted.get());
    }

    /** Why something is not there for a person now, in a sentence for that person. */
    static String why(Inquiry inquiry, Account account, Setting setting, Optional<String> workspace) {
        Snapshot snapshot = inquiry.snapshot();
        Question question = new Question(
                inquiry.question().at(),
                workspace.filter(w -> snapshot.estate().workspace(w).isPresent()));
        return new PlainReason(inquiry.wording())
                .of(snapshot.moment(question).climber(account).climb(setting));
    }
}
