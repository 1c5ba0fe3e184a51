package leanladder.server;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import io.javalin.http.Context;
import java.io.IOException;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import leanladder.document.Defect;
import leanladder.document.Defects;
import leanladder.document.Json;
import leanladder.document.Place;
import leanladder.store.Change;
import leanladder.store.Draft;

/** Drafts: edits staged, read over, put aside, taken up again and published. */
record DraftRoutes(Estates estates, Drafts drafts, ChangeRoutes changes) {
    private static final int LONGEST_NAME = 200;
    private static final Map<String, Boolean> CHOICES = Map.of("mine", true, "theirs", false);

    void list(Context ctx) {
        new Query(ctx, estates.now(), Set.of(), Set.of());
        ObjectNode told = Answers.object();
        ArrayNode list = told.putArray("drafts");
        drafts.all().forEach(d -> list.add(line(d)));
        Answers.json(ctx, told);
    }

    private static ObjectNode line(Draft draft) {
        int edits = 0;
        for (JsonNode step : draft.steps()) edits += step.size();
        return Answers.object()
                .put("id", draft.id())
                .put("name", draft.name())
                .put("author", draft.author())
                .put("version", draft.version())
                .put("edits", edits)
                .put("note", draft.note())
                .put("due", draft.due().map(Instant::toString).orElse(null))
                .put("stuck", draft.stuck().orElse(null))
                .put("touched", draft.touched().toString());
    }

    /** A new draft, empty or with the edits that take a change back. */
    void begin(Context ctx) throws IOException {
        new Query(ctx, estates.now(), Set.of(), Set.of());
        estates.present();
        Sent sent = sent(ctx);
        String name = name(sent);
        Optional<Long> takesBack = sent.root.member("takesBack").flatMap(Sent::number);
        sent.refuseDefects();
        if (takesBack.isEmpty()) {
            Draft draft = drafts.begin(name);
            ctx.status(201);
            tell(ctx, draft);
            return;
        }
        Change change = estates.change(takesBack.get())
                .orElseThrow(() -> Problem.unknown("There is no change " + takesBack.get() + "."));
        ArrayNode edits = changes.inverse(change);
        Draft draft = drafts.alter(drafts.stageEach(drafts.begin(name), edits, change.number()));
        ctx.status(201);
        tell(ctx, draft);
    }

    void one(Context ctx) {
        new Query(ctx, estates.now(), Set.of(), Set.of());
        tell(ctx, drafts.draft(id(ctx)));
    }

    private void tell(Context ctx, Draft draft) {
        Answers.json(ctx, told(draft));
    }

    private ObjectNode told(Draft draft) {
        Carried carried = drafts.carried(draft);
        ObjectNode told = line(draft);
        told.put("change", carried.base().change());
        ArrayNode items = told.putArray("items");
        int step = 0;
        int at = 0;
        for (JsonNode together : draft.steps()) {
            for (int i = 0; i < together.size(); i++) {
                Carried.Item item = carried.items().get(at);
                ObjectNode one =
                        items.addObject().put("index", at++).put("step", step).put("words", item.words());
                one.set("clashes", Json.NODES.arrayNode().addAll(item.clashes()));
                ArrayNode refusals = one.putArray("refusals");
                for (Defect defect : item.refusals())
                    refusals.addObject().put("pointer", defect.pointer()).put("message", defect.message());
                if (!item.refusals().isEmpty() || !item.clashes().isEmpty()) one.set("edit", item.edit());
            }
            step++;
        }
        told.put("stands", carried.stands());
        told.put("undoable", !draft.steps().isEmpty());
        told.put("redoable", !draft.undone().isEmpty());
        ArrayNode policies = told.putArray("policies");
        carried.policies().forEach(policies::add);
        told.set("ripple", RippleTelling.counts(carried.ripple()));
        return told;
    }

    void amend(Context ctx) throws IOException {
        Sent sent = sent(ctx);
        Draft draft = drafts.draft(id(ctx), sent.version());
        String name = sent.root.member("name").isPresent() ? name(sent) : draft.name();
        String note = sent.root.member("note").isPresent() ? sent.note() : draft.note();
        Optional<Place> due = sent.root.member("due");
        due.filter(p -> !p.node().isNull())
                .ifPresent(p ->
                        p.defect("can only be null here; publish the draft with \"at\" to have it publish itself"));
        boolean unschedules = due.isPresent();
        sent.refuseDefects();
        tell(
                ctx,
                drafts.alter(drafts.named(
                        draft,
                        name,
                        note,
                        unschedules ? Optional.empty() : draft.due(),
                        unschedules ? Optional.empty() : draft.stuck())));
    }

    void discard(Context ctx) {
        Query query = new Query(ctx, estates.now(), Set.of("version"), Set.of());
        drafts.discard(drafts.draft(id(ctx), query.number("version", 1, Integer.MAX_VALUE)));
        ctx.status(204);
    }

    /** Stages edits as one step; when one of them does not fit none is staged. */
    void stage(Context ctx) throws IOException {
        Sent sent = sent(ctx);
        Draft draft = drafts.draft(id(ctx), sent.version());
        List<JsonNode> edits = new ArrayList<>();
        for (Place place : sent.root.required("edits").map(Place::items).orElse(List.of())) edits.add(place.node());
        if (sent.defects.isEmpty() && edits.isEmpty())
            sent.root.member("edits").orElseThrow().defect("must hold at least one edit");
        sent.refuseDefects();
        refuseWhatDoesNotFit(draft, edits);
        tell(ctx, drafts.alter(drafts.stage(draft, edits, estates.present().change())));
    }

    /** Tries edits on top of the draft; a problem when one does not fit. */
    private void refuseWhatDoesNotFit(Draft draft, List<JsonNode> edits) {
        Carried carried = drafts.carried(draft);
        var book = carried.book().copy();
        Defects found = new Defects();
        for (int i = 0; i < edits.size(); i++) {
            int before = found.size();
            Place place = new Place(edits.get(i), "/edits/" + i, found);
            if (book.apply(place).isEmpty() && found.size() == before) place.defect("cannot be carried out");
        }
        if (!found.isEmpty()) throw Problem.defects(422, "Refused", found.all());
    }

    void undo(Context ctx) throws IOException {
        Sent sent = sent(ctx);
        tell(ctx, drafts.alter(drafts.turn(drafts.draft(id(ctx), sent.version()), true)));
    }

    void redo(Context ctx) throws IOException {
        Sent sent = sent(ctx);
        tell(ctx, drafts.alter(drafts.turn(drafts.draft(id(ctx), sent.version()), false)));
    }

    /** Decides about one edit that clashes or no longer fits. */
    void choose(Context ctx) throws IOException {
        Sent sent = sent(ctx);
        Draft draft = drafts.draft(id(ctx), sent.version());
        Optional<Long> index = sent.root.required("index").flatMap(Sent::number);
        Optional<Boolean> mine = sent.root.required("keep").flatMap(p -> p.word(CHOICES));
        sent.refuseDefects();
        tell(
                ctx,
                drafts.alter(drafts.choose(
                        draft,
                        (int) Math.min(index.orElseThrow(), Integer.MAX_VALUE),
                        mine.orElseThrow(),
                        estates.present().change())));
    }

    /** Everything that one reads before publishing. */
    void reading(Context ctx) {
        new Query(ctx, estates.now(), Set.of(), Set.of());
        Draft draft = drafts.draft(id(ctx));
        Answers.json(ctx, new ReadingOver(drafts.carried(draft), estates).json());
    }

    /** The people of the ripple, page by page; at another instant or for a workspace too. */
    void ripple(Context ctx) {
        Query query = new Query(
                ctx,
                estates.now(),
                Set.of("limit", "after", "effect", "at", "workspace", "setting", "from", "to", "part", "format"),
                Set.of());
        Draft draft = drafts.draft(id(ctx));
        RipplePeople.answer(ctx, query, drafts.carried(draft), estates);
    }

    /** Publishes now, or leaves the draft to publish itself at an instant. */
    void publish(Context ctx) throws IOException {
        Sent sent = sent(ctx);
        Draft draft = drafts.draft(id(ctx), sent.version());
        String note = sent.note();
        Optional<Place> at = sent.root.member("at").filter(p -> !p.node().isNull());
        Optional<Instant> due = at.flatMap(Place::instant);
        due.filter(d -> !d.isAfter(estates.now()))
                .ifPresent(d -> at.get().defect("lies in the past; leave it out to publish now"));
        sent.refuseDefects();
        if (due.isPresent()) {
            Carried carried = drafts.carried(draft);
            if (!carried.stands() || carried.items().isEmpty())
                throw Problem.refused(
                        409,
                        "Base moved",
                        "Some edits cannot be published as they are; choose for each of them first.");
            tell(ctx, drafts.alter(drafts.named(draft, draft.name(), note, due, Optional.empty())));
            return;
        }
        Change change = drafts.publish(draft, note, Optional.empty());
        ctx.status(201).header("Location", "/api/v1/changes/" + change.number());
        Answers.json(ctx, ChangeRoutes.receipt(change));
    }

    private String name(Sent sent) {
        Optional<Place> place = sent.root.member("name").filter(p -> !p.node().isNull());
        Optional<String> name = place.flatMap(Place::text).map(String::strip).filter(n -> !n.isEmpty());
        name.filter(n -> n.length() > LONGEST_NAME)
                .ifPresent(n -> place.get().defect("must not be longer than " + LONGEST_NAME + " characters"));
        return name.orElse("");
    }

    private static long id(Context ctx) {
        String id = ctx.pathParam("id");
        if (!id.matches("\\d{1,18}")) throw Problem.unknown("There is no draft \"" + id + "\".");
        return Long.parseLong(id);
    }

    private static Sent sent(Context ctx) throws IOException {
        Defects defects = new Defects();
        Place root = new Place(Bodies.read(ctx), "", defects);
        Sent sent = new Sent(root, defects);
        if (root.isObject()) Bodies.wellFormed(root);
        sent.refuseDefects();
        return sent;
    }

    /** A body that was sent. */
    private record Sent(Place root, Defects defects) {
        static Optional<Long> number(Place place) {
            Optional<Long> number =
                    place.integer().filter(n -> n.bitLength() < 63).map(n -> n.longValue());
            if (number.isEmpty() && place.defects().isEmpty()) place.defect("is too large");
            return number;
        }

        long version() {
            Optional<Long> version = root.required("version").flatMap(Sent::number);
            refuseDefects();
            return version.orElseThrow();
        }

        String note() {
            Optional<Place> place = root.member("note").filter(p -> !p.node().isNull());
            Optional<String> note = place.flatMap(Place::text);
            note.filter(n -> n.length() > ChangeRoutes.LONGEST_NOTE)
                    .ifPresent(n ->
                            place.get().defect("must not be longer than " + ChangeRoutes.LONGEST_NOTE + " characters"));
            return note.orElse("");
        }

        void refuseDefects() {
            if (!defects.isEmpty()) throw Problem.defects(422, "Refused", defects.all());
        }
    }
}
