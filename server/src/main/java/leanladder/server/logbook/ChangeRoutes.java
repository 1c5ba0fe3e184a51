package leanladder.server.logbook;

import com.fasterxml.jackson.annotation.JsonUnwrapped;
import com.fasterxml.jackson.databind.JsonNode;
import java.io.IOException;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import leanladder.change.Kinds;
import leanladder.document.Defects;
import leanladder.document.Place;
import leanladder.server.access.OwnWord;
import leanladder.server.draft.DraftRoutes.PublishedReceipt;
import leanladder.server.draft.Inverses;
import leanladder.server.draft.RippleTelling;
import leanladder.server.http.Answer;
import leanladder.server.http.Api;
import leanladder.server.http.Call;
import leanladder.server.http.Limits;
import leanladder.server.http.Problem;
import leanladder.server.http.Query;
import leanladder.server.http.Room;
import leanladder.server.http.Sent;
import leanladder.server.http.Shape;
import leanladder.server.live.Clash;
import leanladder.server.live.Proposal;
import leanladder.server.live.Publisher;
import leanladder.server.live.Receipt;
import leanladder.server.live.Timeline;
import leanladder.store.Store;
import leanladder.store.journal.Change;

/** The logbook, and publishing without a draft. */
public record ChangeRoutes(Store store, Timeline timeline, Publisher publisher, Inverses inverses) implements Room {
    private static final int CHANGES_SHOWN = 50;
    private static final int MOST_CHANGES = 500;

    /** A change in the logbook. @param accounts how many it changed, where that was worked out */
    public record LogbookLine(@JsonUnwrapped Receipt receipt, int edits, Optional<Integer> accounts) {}

    /** A page of the logbook, newest first. @param next to be sent as before; null on the last page */
    public record Logbook(List<LogbookLine> changes, Optional<Long> next) {}

    /** A change with its edits, as they were written and as they read then, and its ripple as it was. */
    public record PublishedChange(
            @JsonUnwrapped Receipt receipt,
            List<JsonNode> edits,
            List<String> words,
            Optional<@Shape("RippleSummary") JsonNode> ripple) {}

    /** The edits that take a change back, on the base of that change. */
    public record InverseEdits(long base, List<@Shape("Edit") JsonNode> edits) {}

    @Override
    public void routes(Api api) {
        api.get("/changes", this::list, Logbook.class);
        api.post("/changes", this::publish, this::again, RippleTelling.RippleView.class, PublishedReceipt.class);
        api.get("/changes/{number}", this::one, PublishedChange.class);
        api.get("/changes/{number}/inverse", this::inverse, InverseEdits.class);
    }

    private Answer list(Call call) {
        Query query = call.query(Set.of("before", "limit"));
        int limit = query.number("limit", CHANGES_SHOWN, MOST_CHANGES);
        List<Change> changes =
                store.journal().before(query.number("before", Integer.MAX_VALUE, Integer.MAX_VALUE), limit);
        boolean more = changes.size() == limit && changes.get(limit - 1).number() > 1;
        return Answer.of(new Logbook(
                changes.stream()
                        .map(c -> new LogbookLine(
                                Receipt.of(c),
                                c.edits().size(),
                                Optional.of(c.ripple().path("accounts"))
                                        .filter(JsonNode::isInt)
                                        .map(JsonNode::intValue)))
                        .toList(),
                more ? Optional.of(changes.get(limit - 1).number()) : Optional.empty()));
    }

    private Answer one(Call call) {
        Change found = inverses.change(call.number("number", "change"));
        List<JsonNode> edits = new ArrayList<>();
        found.edits().forEach(edits::add);
        List<String> words = new ArrayList<>();
        found.words().forEach(w -> words.add(w.asText()));
        return Answer.of(new PublishedChange(
                Receipt.of(found),
                edits,
                words,
                Optional.of(found.ripple()).filter(r -> r.has("accounts")).map(RippleTelling::summary)));
    }

    private Answer inverse(Call call) {
        Change change = inverses.change(call.number("number", "change"));
        return Answer.of(new InverseEdits(change.number(), inverses.of(change)));
    }

    private Answer again(long number) {
        return receipt(inverses.change(number));
    }

    /** Publishes edits as one change; with {@code preview}, tells their ripple and stores nothing. */
    private Answer publish(Call call) throws IOException {
        Query query = call.query(Set.of("preview", "limit", "after", "effect"));
        Sent sent = call.sent(Limits.BATCH);
        timeline.present();
        Optional<Long> base =
                sent.root().required("base").flatMap(Place::integer).map(b -> b.bitLength() < 63 ? b.longValue() : -1);
        base.filter(b -> b < 0 || b > timeline.change())
                .ifPresent(b -> sent.root()
                        .member("base")
                        .orElseThrow()
                        .defect("must be the number of a published change; the last is " + timeline.change()));
        String note = sent.text("note", Limits.NOTE).orElse("");
        Optional<Place> list = sent.root().required("edits");
        List<Place> places = list.map(Place::items).orElse(List.of());
        if (list.isPresent() && list.get().node().isArray() && places.isEmpty())
            list.get().defect("must hold at least one edit");
        // What is malformed would be reported as a conflict, were it first compared with what was published since.
        places.forEach(Kinds::checkForm);
        OwnWord.refuse(places, timeline.present().estate());
        if (!sent.defects().isEmpty())
            throw Problem.defects(422, "Not a change", sent.defects().all());

        Proposal proposal = timeline.proposal()
                .with(
                        places.stream()
                                .map(p -> new Proposal.Wanted(p.node(), base.get()))
                                .toList(),
                        "/edits",
                        0);
        if (query.has("preview")) {
            refuse(proposal);
            return Answer.of(RippleTelling.of(proposal).view(proposal.base().change(), query));
        }
        Publisher.How how = new Publisher.How(
                call.request().actor(),
                note,
                p -> RippleTelling.of(p).journalled(),
                Optional.empty(),
                Optional.empty());
        Publisher.Published published = publisher.publish(call.request(), proposal, how, this::refuse);
        return receipt(published.change());
    }

    private Answer receipt(Change change) {
        return Answer.created(
                PublishedReceipt.of(change, timeline.present().estate().catalogue()),
                Api.ROOT + "/changes/" + change.number());
    }

    /** Refuses edits that clash with what was published since, and edits that do not fit. */
    private void refuse(Proposal proposal) {
        List<Clash> clashes =
                proposal.items().stream().flatMap(i -> i.clashes().stream()).toList();
        if (!clashes.isEmpty())
            throw Problem.refused(
                            409,
                            "Base moved",
                            "Somebody published meanwhile and touched the same parts; nothing was stored. The estate stands at change "
                                    + proposal.base().change() + ".")
                    .with("clashes", clashes)
                    .with("change", proposal.base().change());
        Defects defects = new Defects();
        proposal.items().forEach(i -> i.refusals().forEach(d -> defects.add(d.pointer(), d.message())));
        if (!defects.isEmpty()) throw Problem.defects(422, "Refused", defects.all());
    }
}
