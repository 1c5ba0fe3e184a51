package leanladder.server.draft;

import com.fasterxml.jackson.annotation.JsonInclude;
import com.fasterxml.jackson.annotation.JsonUnwrapped;
import com.fasterxml.jackson.databind.JsonNode;
import java.io.IOException;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import leanladder.catalogue.Catalogue;
import leanladder.change.Ripple;
import leanladder.document.Place;
import leanladder.resolve.Question;
import leanladder.server.access.OwnWord;
import leanladder.server.draft.RippleTelling.RippleCounts;
import leanladder.server.http.Answer;
import leanladder.server.http.Api;
import leanladder.server.http.Call;
import leanladder.server.http.Limits;
import leanladder.server.http.Problem.DefectLine;
import leanladder.server.http.Query;
import leanladder.server.http.Room;
import leanladder.server.http.Sent;
import leanladder.server.http.Shape;
import leanladder.server.list.AccountPage;
import leanladder.server.live.Clash;
import leanladder.server.live.Proposal;
import leanladder.server.live.Publisher;
import leanladder.server.live.Receipt;
import leanladder.server.live.Timeline;
import leanladder.store.Store;
import leanladder.store.drafts.Draft;
import leanladder.store.drafts.DraftLine;
import leanladder.store.journal.Change;

/** Drafts: edits staged, read over, put aside, taken up again and published. */
public record DraftRoutes(Store store, Timeline timeline, DraftDesk drafts, Inverses inverses) implements Room {
    /** So many edits are told from either end of a draft, and so many of those between them that do not stand. */
    private static final int MOST_ITEMS = 500;

    private static final Map<String, Boolean> CHOICES = Map.of("mine", true, "theirs", false);

    /** Drafts: all that are planned, and those touched last. */
    public record DraftList(List<DraftLine> drafts) {}

    /**
     * An edit of a draft.
     *
     * @param words empty when it cannot be carried out
     * @param edit as it is written, where it clashes or no longer fits
     */
    public record DraftItem(
            int index,
            int step,
            String words,
            List<Clash> clashes,
            List<DefectLine> refusals,

            @JsonInclude(JsonInclude.Include.NON_ABSENT) Optional<@Shape("Edit") JsonNode> edit) {}

    /**
     * A draft carried onto the present estate.
     *
     * @param items its first edits and its last ones, and between them those that do not stand; of a draft that is not very long, all
     * @param troubled how many edits do not stand, those that are not told included
     */
    public record DraftView(
            @JsonUnwrapped DraftLine line,
            long change,
            List<DraftItem> items,
            int troubled,
            boolean stands,
            boolean undoable,
            boolean redoable,
            Set<String> policies,
            RippleCounts ripple) {}

    /** The receipt of a published change: what it altered, and when that will have taken effect. */
    public record PublishedReceipt(
            @JsonUnwrapped Receipt receipt,
            @Shape("RippleSummary") JsonNode ripple,
            List<ReadingOver.Settling> settling) {
        /** Of a change that was published as edits. @param catalogue says when what they altered takes effect */
        public static PublishedReceipt of(Change change, Catalogue catalogue) {
            Set<String> moved = new LinkedHashSet<>();
            change.ripple()
                    .path("moves")
                    .forEach(m -> moved.add(m.path("setting").asText()));
            return new PublishedReceipt(
                    Receipt.of(change),
                    change.ripple(),
                    ReadingOver.settling(
                            moved.stream()
                                    .flatMap(key -> catalogue.setting(key).stream())
                                    .toList(),
                            catalogue));
        }
    }

    @Override
    public void routes(Api api) {
        api.get("/drafts", call -> list(call), DraftList.class);
        api.post("/drafts", this::begin, this::begun, DraftView.class);
        api.get("/drafts/{id}", this::one, DraftView.class);
        api.patch("/drafts/{id}", this::amend, this::again, DraftView.class);
        api.delete("/drafts/{id}", this::discard, id -> Answer.none());
        api.post("/drafts/{id}/edits", this::stage, this::again, DraftView.class);
        api.post("/drafts/{id}/undo", call -> turn(call, true), this::again, DraftView.class);
        api.post("/drafts/{id}/redo", call -> turn(call, false), this::again, DraftView.class);
        api.post("/drafts/{id}/choose", this::choose, this::again, DraftView.class);
        api.get("/drafts/{id}/reading", this::reading, ReadingOver.Reading.class);
        api.get("/drafts/{id}/ripple", this::ripple, RippleTelling.RippleView.class, AccountPage.PeopleList.class);
        api.post("/drafts/{id}/publish", this::publish, this::published, DraftView.class, PublishedReceipt.class);
    }

    private Answer list(Call call) {
        call.query(Set.of());
        return Answer.of(new DraftList(drafts.lines()));
    }

    private Answer begun(long draft) {
        return Answer.created(view(drafts.draft(draft)));
    }

    private Answer again(long draft) {
        return Answer.of(view(drafts.draft(draft)));
    }

    /** The receipt of a change that was published before; or the draft, which was told to publish itself. */
    private Answer published(long reference) {
        Optional<Change> change = store.journal().change(reference);
        return change.isPresent() ? receipt(change.get()) : again(reference);
    }

    private Answer receipt(Change change) {
        return Answer.created(
                PublishedReceipt.of(change, timeline.present().estate().catalogue()),
                Api.ROOT + "/changes/" + change.number());
    }

    /** A new draft, empty or with the edits that take a change back. */
    private Answer begin(Call call) throws IOException {
        call.query(Set.of());
        timeline.present();
        Sent sent = call.sent();
        String name = name(sent);
        Optional<Long> takesBack = sent.root().member("takesBack").flatMap(Sent::number);
        sent.refuseDefects();
        if (takesBack.isEmpty()) return Answer.created(view(drafts.begin(call.request(), name)));
        Change change = inverses.change(takesBack.get());
        OwnWord.refuseUndo(inverses.of(change), timeline.present().estate());
        String note = "Takes back change " + change.number() + (change.note().isBlank() ? "" : ": " + change.note());
        return Answer.created(view(drafts.begin(
                call.request(),
                name,
                note.substring(0, Math.min(note.length(), Limits.NOTE)),
                inverses.of(change),
                change.number())));
    }

    private Answer one(Call call) {
        call.query(Set.of());
        return Answer.of(view(drafts.draft(call.number("id", "draft"))));
    }

    private DraftView view(Draft draft) {
        Proposal proposal = drafts.proposal(draft);
        int all = proposal.items().size();
        List<DraftItem> items = new ArrayList<>();
        int step = 0;
        int index = 0;
        int troubled = 0;
        for (Draft.Step together : draft.steps()) {
            for (int i = 0; i < together.items().size(); i++, index++) {
                Proposal.Item item = proposal.items().get(index);
                boolean atAnEnd = index < MOST_ITEMS || index >= all - MOST_ITEMS;
                if (!item.stands()) troubled++;
                if (!atAnEnd && (item.stands() || troubled > MOST_ITEMS)) continue;
                items.add(new DraftItem(
                        index,
                        step,
                        item.words(),
                        item.clashes(),
                        DefectLine.of(item.refusals()),
                        item.stands() ? Optional.empty() : Optional.of(item.edit())));
            }
            step++;
        }
        return new DraftView(
                draft.line(),
                proposal.base().change(),
                items,
                troubled,
                proposal.stands(),
                !draft.steps().isEmpty(),
                !draft.undone().isEmpty(),
                proposal.policies(),
                RippleTelling.counts(proposal.ripple()));
    }

    private Answer amend(Call call) throws IOException {
        Sent sent = call.sent();
        Draft draft = drafts.draft(call.number("id", "draft"), sent.version());
        String name = sent.root().member("name").isPresent() ? name(sent) : draft.name();
        String note = sent.root().member("note").isPresent()
                ? sent.text("note", Limits.NOTE).orElse("")
                : draft.note();
        boolean unschedules = sent.root().member("due").isPresent();
        sent.member("due")
                .ifPresent(p ->
                        p.defect("can only be null here; publish the draft with \"at\" to have it publish itself"));
        sent.refuseDefects();
        return Answer.of(view(drafts.amend(
                call.request(),
                draft,
                name,
                note,
                unschedules ? Optional.empty() : draft.due(),
                unschedules ? Optional.empty() : draft.stuck())));
    }

    private Answer discard(Call call) {
        Query query = call.query(Set.of("version"));
        Draft draft = drafts.draft(call.number("id", "draft"), query.number("version", 1, Integer.MAX_VALUE));
        drafts.discard(call.request(), draft);
        return Answer.none();
    }

    /** Stages edits as one step; when one of them does not fit none is staged. */
    private Answer stage(Call call) throws IOException {
        Sent sent = call.sent(Limits.BATCH);
        Draft draft = drafts.draft(call.number("id", "draft"), sent.version());
        List<JsonNode> edits = new ArrayList<>();
        List<Place> places = sent.root().required("edits").map(Place::items).orElse(List.of());
        places.forEach(place -> edits.add(place.node()));
        OwnWord.refuse(places, timeline.present().estate());
        if (sent.defects().isEmpty() && edits.isEmpty())
            sent.root().member("edits").orElseThrow().defect("must hold at least one edit");
        sent.refuseDefects();
        return Answer.of(view(drafts.stage(call.request(), draft, edits)));
    }

    private Answer turn(Call call, boolean back) throws IOException {
        Sent sent = call.sent();
        Draft draft = drafts.draft(call.number("id", "draft"), sent.version());
        return Answer.of(view(drafts.turn(call.request(), draft, back)));
    }

    /** Decides about one edit that clashes or no longer fits. */
    private Answer choose(Call call) throws IOException {
        Sent sent = call.sent();
        Draft draft = drafts.draft(call.number("id", "draft"), sent.version());
        Optional<Long> index = sent.root().required("index").flatMap(Sent::number);
        Optional<Boolean> mine = sent.root().required("keep").flatMap(p -> p.word(CHOICES));
        sent.refuseDefects();
        return Answer.of(view(drafts.choose(
                call.request(), draft, (int) Math.min(index.orElseThrow(), Integer.MAX_VALUE), mine.orElseThrow())));
    }

    /** Everything that one reads before publishing. */
    private Answer reading(Call call) {
        call.query(Set.of());
        Draft draft = drafts.draft(call.number("id", "draft"));
        return Answer.of(new ReadingOver(drafts.proposal(draft), draft.author()).reading());
    }

    /** The people of the ripple, page by page; at another instant or for a workspace too. */
    private Answer ripple(Call call) {
        Query query = call.query(Set.of(
                "limit", "after", "effect", "at", "workspace", "setting", "from", "to", "part", "unit", "format"));
        Proposal proposal = drafts.proposal(drafts.draft(call.number("id", "draft")));
        Optional<Instant> at =
                query.instant("at", proposal.base().estate().organisation().zone());
        Optional<String> workspace = query.one("workspace");
        workspace.filter(w -> proposal.after().estate().workspace(w).isEmpty()).ifPresent(w -> {
            throw leanladder.server.http.Problem.unknown("There is no workspace \"" + w + "\".");
        });
        Ripple ripple = at.isEmpty() && workspace.isEmpty()
                ? proposal.ripple()
                : proposal.ripple(new Question(at.orElse(timeline.now()), workspace));
        return Answer.of(
                new RippleTelling(ripple, timeline.now()).people(proposal.base().change(), query));
    }

    /** Publishes now, or leaves the draft to publish itself at an instant. */
    private Answer publish(Call call) throws IOException {
        Sent sent = call.sent();
        Draft draft = drafts.draft(call.number("id", "draft"), sent.version());
        String note = sent.text("note", Limits.NOTE).orElse("");
        Optional<Place> at = sent.member("at");
        Optional<Instant> due = at.flatMap(Place::instant);
        due.filter(d -> !d.isAfter(timeline.now()))
                .ifPresent(d -> at.get().defect("lies in the past; leave it out to publish now"));
        sent.refuseDefects();
        if (due.isPresent()) {
            DraftDesk.checkReady(drafts.proposal(draft));
            return Answer.of(view(drafts.amend(call.request(), draft, draft.name(), note, due, Optional.empty())));
        }
        Publisher.Published published = drafts.publish(call.request(), draft, note, Optional.empty());
        return receipt(published.change());
    }

    private static String name(Sent sent) {
        return sent.text("name", Limits.NAME).map(String::strip).orElse("");
    }
}
