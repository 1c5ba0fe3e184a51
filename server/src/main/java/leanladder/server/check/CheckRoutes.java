package leanladder.server.check;

import java.io.IOException;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import leanladder.catalogue.Setting;
import leanladder.estate.Target;
import leanladder.server.draft.Inquiry;
import leanladder.server.http.Answer;
import leanladder.server.http.Api;
import leanladder.server.http.Call;
import leanladder.server.http.Limits;
import leanladder.server.http.Problem;
import leanladder.server.http.Query;
import leanladder.server.http.Room;
import leanladder.server.http.Sent;
import leanladder.server.live.Timeline;
import leanladder.server.today.Matter;
import leanladder.server.today.Matters;
import leanladder.settle.Settles;
import leanladder.store.Store;
import leanladder.store.checks.ArrivalCheck;

/** Checks that a change has arrived on people's screens: written with one press, looked at when it has settled. */
public record CheckRoutes(Store store, Timeline timeline, Inquiry.Reader inquiries) implements Room, Matters {
    private static final int MOST = 200;
    private static final Duration TOLD = Duration.ofDays(7);

    /**
     * A check.
     *
     * @param who a target as the estate file writes it, or everyone
     * @param words what is expected, for whom, as the start of a sentence
     * @param found what was found, once it was looked at
     */
    public record CheckLine(
            long id,
            String who,
            String setting,
            String words,
            long change,
            Instant written,
            String by,
            Instant due,
            ArrivalCheck.CheckState state,
            Optional<Instant> looked,
            Optional<String> found) {}

    /** Checks, the newest first. */
    public record CheckList(List<CheckLine> checks) {}

    @Override
    public void routes(Api api) {
        api.get("/checks", this::list, CheckList.class);
        api.post("/checks", this::write, this::written, CheckList.class);
        api.delete("/checks/{id}", this::remove, id -> Answer.none());
    }

    private Answer list(Call call) {
        Query query = call.query(Set.of("who", "setting"));
        Inquiry inquiry = inquiries.of(Query.none());
        return Answer.of(new CheckList(store.checks().latest(MOST).stream()
                .filter(c -> query.one("who").map(c.who()::equals).orElse(true))
                .filter(c -> query.one("setting").map(c.setting()::equals).orElse(true))
                .map(c -> line(inquiry, c))
                .toList()));
    }

    private static CheckLine line(Inquiry inquiry, ArrivalCheck check) {
        return new CheckLine(
                check.id(),
                check.who(),
                check.setting(),
                words(inquiry, check),
                check.change(),
                check.written(),
                check.by(),
                check.due(),
                check.state(),
                check.looked(),
                check.words());
    }

    private static String words(Inquiry inquiry, ArrivalCheck check) {
        String what = inquiry.estate()
                .catalogue()
                .setting(check.setting())
                .map(Setting::title)
                .orElse(check.setting());
        String whom = check.who().equals("everyone")
                ? "everyone"
                : Target.of(check.who())
                        .filter(t ->
                                Checks.accounts(inquiry.snapshot(), check.who()).isPresent())
                        .map(t -> inquiry.wording().target(t))
                        .orElse(check.who());
        return "“" + what + "” for " + whom;
    }

    private Answer write(Call call) throws IOException {
        Sent sent = call.sent();
        Inquiry inquiry = inquiries.of(Query.none());
        Optional<String> who = sent.text("who", Limits.NAME);
        Optional<String> key = sent.text("setting", Limits.NAME);
        if (who.isEmpty() && sent.defects().isEmpty()) sent.defects().add("/who", "is missing");
        if (key.isEmpty() && sent.defects().isEmpty()) sent.defects().add("/setting", "is missing");
        who.filter(w -> Checks.accounts(inquiry.snapshot(), w).isEmpty())
                .ifPresent(w -> sent.defects()
                        .add(
                                "/who",
                                "must be everyone, or an account:ID, unit:ID or group:ID that exists; is \"" + w
                                        + "\""));
        Optional<Setting> setting = key.flatMap(inquiry.estate().catalogue()::setting);
        if (key.isPresent() && setting.isEmpty())
            sent.defects().add("/setting", "names \"" + key.get() + "\", which the catalogue does not have");
        sent.refuseDefects();
        Instant now = timeline.now();
        Instant settled =
                inquiry.snapshot().at().plus(Settles.of(setting.orElseThrow()).most());
        var asking = call.request();
        long id = store.checks()
                .write(
                        asking,
                        who.orElseThrow(),
                        setting.get().key(),
                        inquiry.snapshot().change(),
                        asking.actor(),
                        settled.isAfter(now) ? settled : now);
        return written(id);
    }

    private Answer written(long id) {
        Inquiry inquiry = inquiries.of(Query.none());
        return Answer.created(
                new CheckList(List.of(line(inquiry, store.checks().find(id).orElseThrow()))));
    }

    private Answer remove(Call call) {
        long id = call.number("id", "check");
        if (store.checks().find(id).isEmpty()) throw Problem.unknown("There is no check \"" + id + "\".");
        store.checks().remove(call.request(), id);
        return Answer.none();
    }

    /** What was found within the last week: first what has not arrived, then what has. */
    @Override
    public List<Matter> of(Inquiry inquiry) {
        List<Matter> matters = new ArrayList<>();
        Instant now = inquiry.question().at();
        for (ArrivalCheck check : store.checks().latest(MOST)) {
            if (check.looked().filter(at -> at.plus(TOLD).isAfter(now)).isEmpty()) continue;
            matters.add(new Matter(
                    check.state() == ArrivalCheck.CheckState.MISSING ? Matter.Topic.CHECK : Matter.Topic.ARRIVED,
                    "check:" + check.id(),
                    words(inquiry, check) + ": "
                            + check.words()
                                    .map(w -> w.substring(0, 1).toLowerCase(Locale.ROOT) + w.substring(1))
                                    .orElse(""),
                    "/ladder?who=" + check.who() + "&what=setting:" + check.setting(),
                    Optional.empty()));
        }
        return matters;
    }
}
