package leanladder.server.check;

import com.fasterxml.jackson.databind.JsonNode;
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
import leanladder.estate.Workspace;
import leanladder.server.draft.DraftDesk;
import leanladder.server.draft.Inquiry;
import leanladder.server.http.Answer;
import leanladder.server.http.Api;
import leanladder.server.http.Call;
import leanladder.server.http.Limits;
import leanladder.server.http.Problem;
import leanladder.server.http.Query;
import leanladder.server.http.Room;
import leanladder.server.http.Sent;
import leanladder.server.live.Snapshot;
import leanladder.server.live.Timeline;
import leanladder.server.today.Matter;
import leanladder.server.today.Matters;
import leanladder.settle.Settles;
import leanladder.store.Store;
import leanladder.store.checks.ArrivalCheck;
import leanladder.store.checks.CheckTable;
import leanladder.store.drafts.Draft;
import leanladder.store.journal.Change;

/**
 * Checks that a change has arrived on people's screens: written with one press, for what is in force or into a draft that carries it, and
 * looked at when it has settled.
 */
public record CheckRoutes(Store store, Timeline timeline, Inquiry.Reader inquiries, DraftDesk drafts)
        implements Room, Matters {
    private static final int MOST = 200;
    private static final int RECENT = 100;
    private static final Duration TOLD = Duration.ofDays(7);

    /**
     * A check.
     *
     * @param who a target as the estate file writes it, or everyone
     * @param workspace where, if not everywhere
     * @param words what is expected, for whom, as the start of a sentence
     * @param draft the draft that carries it, until that is published
     * @param due when it is looked at; not known before its draft is published
     * @param found what was found, once it was looked at
     */
    public record CheckLine(
            long id,
            String who,
            String setting,
            Optional<String> workspace,
            String words,
            long change,
            Optional<Long> draft,
            Instant written,
            String by,
            Optional<Instant> due,
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
        Query query = call.query(Set.of("who", "setting", "workspace", "draft"));
        Inquiry inquiry = inquiries.of(Query.none());
        CheckTable.Sought sought = new CheckTable.Sought(
                query.one("who"),
                query.one("setting"),
                query.one("workspace"),
                query.one("draft").map(d -> (long) query.number("draft", 1, Integer.MAX_VALUE)));
        return Answer.of(new CheckList(store.checks().latest(sought, MOST).stream()
                .map(c -> line(inquiry, c))
                .toList()));
    }

    private static CheckLine line(Inquiry inquiry, ArrivalCheck check) {
        return new CheckLine(
                check.id(),
                check.who(),
                check.setting(),
                check.workspace(),
                words(inquiry, check),
                check.change(),
                check.draft(),
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
        Optional<Target> target =
                Target.asked(check.who()).filter(t -> inquiry.estate().has(t));
        String whom = target.filter(t -> t instanceof Target.Whole).isPresent()
                ? "everyone"
                : target.map(inquiry.wording()::target).orElse(check.who());
        String where = check.workspace()
                .map(w -> " in "
                        + inquiry.estate().workspace(w).map(Workspace::name).orElse(w))
                .orElse("");
        return "“" + what + "” for " + whom + where;
    }

    private Answer write(Call call) throws IOException {
        Sent sent = call.sent();
        Optional<Draft> draft = sent.member("draft").flatMap(Sent::number).map(drafts::draft);
        Snapshot snapshot = draft.map(d -> drafts.proposal(d).after()).orElseGet(timeline::present);
        CheckTable.About about = about(sent, snapshot);
        Duration most = Settles.of(
                        snapshot.estate().catalogue().setting(about.setting()).orElseThrow())
                .most();
        var asking = call.request();
        if (draft.isPresent())
            return written(store.checks()
                    .write(asking, about, timeline.change(), draft.get().id(), most));
        return written(
                store.checks().write(asking, about, snapshot.change(), settled(about.setting(), most, timeline.now())));
    }

    /** When the last change that altered a setting for somebody will have settled; now where none is on its way. */
    private Instant settled(String setting, Duration most, Instant now) {
        for (Change change : store.journal().before(timeline.change() + 1, RECENT)) {
            Instant settled = change.at().plus(most);
            if (!settled.isAfter(now)) break;
            boolean alters = change.replacesEstate();
            for (JsonNode move : change.ripple().path("moves"))
                alters |= move.path("setting").asText().equals(setting);
            if (alters) return settled;
        }
        return now;
    }

    /** What is to be looked at, of an estate; refused where it is not there. */
    private static CheckTable.About about(Sent sent, Snapshot snapshot) {
        Optional<String> who = sent.text("who", Limits.NAME);
        Optional<String> key = sent.text("setting", Limits.NAME);
        Optional<String> workspace = sent.text("workspace", Limits.NAME);
        if (who.isEmpty() && sent.defects().isEmpty()) sent.defects().add("/who", "is missing");
        if (key.isEmpty() && sent.defects().isEmpty()) sent.defects().add("/setting", "is missing");
        who.filter(w -> Checks.accounts(snapshot, w).isEmpty())
                .ifPresent(w -> sent.defects()
                        .add(
                                "/who",
                                "must be everyone, or an account:ID, unit:ID or group:ID that exists; is \"" + w
                                        + "\""));
        key.filter(k -> snapshot.estate().catalogue().setting(k).isEmpty())
                .ifPresent(
                        k -> sent.defects().add("/setting", "names \"" + k + "\", which the catalogue does not have"));
        workspace
                .filter(w -> snapshot.estate().workspace(w).isEmpty())
                .ifPresent(w -> sent.defects().add("/workspace", "names \"" + w + "\", which does not exist"));
        sent.refuseDefects();
        return new CheckTable.About(who.orElseThrow(), key.orElseThrow(), workspace);
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
        for (ArrivalCheck check : store.checks().lookedAtSince(now.minus(TOLD), MOST)) {
            matters.add(new Matter(
                    check.state() == ArrivalCheck.CheckState.MISSING ? Matter.Topic.CHECK : Matter.Topic.ARRIVED,
                    "check:" + check.id(),
                    words(inquiry, check) + ": "
                            + check.words()
                                    .map(w -> w.substring(0, 1).toLowerCase(Locale.ROOT) + w.substring(1))
                                    .orElse(""),
                    "/ladder?who=" + check.who() + "&what=setting:" + check.setting()
                            + check.workspace()
                                    .map(w -> "&where=workspace:" + w)
                                    .orElse(""),
                    Optional.empty()));
        }
        return matters;
    }
}
