package leanladder.server;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import io.javalin.http.Context;
import java.io.IOException;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import leanladder.change.Inverse;
import leanladder.document.Defects;
import leanladder.document.Json;
import leanladder.document.Place;
import leanladder.store.Change;

/** Changes: the only way to write. */
record ChangeRoutes(Estates estates) {
    private static final Duration LATE = Duration.ofMinutes(1);
    static final int LONGEST_NOTE = 4000;
    private static final int CHANGES_SHOWN = 50;
    private static final int MOST_CHANGES = 500;

    /** A request that has been read. */
    private record Wanted(Carried carried, String note) {}

    void post(Context ctx) throws IOException {
        Query query = new Query(ctx, estates.now(), Set.of("preview", "limit", "after", "effect"), Set.of());
        JsonNode body = Bodies.read(ctx);
        if (ctx.queryParamMap().containsKey("preview")) {
            Wanted wanted = read(body);
            Answers.json(
                    ctx,
                    new RippleTelling(wanted.carried.ripple(), estates.now())
                            .json(wanted.carried.base().change(), PeoplePage.of(query)));
            return;
        }
        // One at a time from reading to storing, so that what was checked is what is stored.
        synchronized (estates) {
            Wanted wanted = read(body);
            Change change = estates.publish(
                    wanted.carried,
                    new Estates.Publication(
                            estates.author(),
                            wanted.note,
                            new RippleTelling(wanted.carried.ripple(), estates.now()).summary(),
                            Optional.empty(),
                            Optional.empty()));
            ObjectNode receipt = receipt(change);
            receipt.set("ripple", RippleTelling.counts(wanted.carried.ripple()));
            ctx.status(201).header("Location", "/api/v1/changes/" + change.number());
            Answers.json(ctx, receipt);
        }
    }

    /** The logbook, newest first. */
    void list(Context ctx) {
        Query query = new Query(ctx, estates.now(), Set.of("before", "limit"), Set.of());
        int limit = query.number("limit", CHANGES_SHOWN, MOST_CHANGES);
        long before = query.number("before", Integer.MAX_VALUE, Integer.MAX_VALUE);
        List<Change> changes = estates.before(before, limit);
        ObjectNode told = Answers.object();
        ArrayNode list = told.putArray("changes");
        for (Change change : changes) {
            ObjectNode line = receipt(change);
            line.put("edits", change.edits().size());
            line.set(
                    "accounts",
                    change.ripple().path("accounts").isInt() ? change.ripple().get("accounts") : Json.NODES.nullNode());
            list.add(line);
        }
        boolean more = changes.size() == limit && changes.get(limit - 1).number() > 1;
        told.set("next", more ? Json.NODES.numberNode(changes.get(limit - 1).number()) : Json.NODES.nullNode());
        Answers.json(ctx, told);
    }

    void one(Context ctx) {
        Change found = found(ctx);
        ObjectNode told = receipt(found);
        told.set("edits", found.edits());
        told.set("words", found.words());
        told.set("ripple", found.ripple().has("accounts") ? found.ripple() : Json.NODES.nullNode());
        Answers.json(ctx, told);
    }

    /** The edits that take a change back, on the base of that change: what was published since is found to clash, or not. */
    void inverse(Context ctx) throws IOException {
        Change change = found(ctx);
        ObjectNode told = Answers.object();
        told.put("base", change.number());
        told.set("edits", inverse(change));
        Answers.json(ctx, told);
    }

    /** The edits that take a change back. */
    ArrayNode inverse(Change change) throws IOException {
        for (JsonNode edit : change.edits())
            if (edit.path("kind").asText().equals("replace-estate"))
                throw Problem.refused(
                        422,
                        "Cannot be undone",
                        "Change " + change.number()
                                + " replaced the whole estate. Put an export from before it in its place instead.");
        Inverse inverse = new Inverse(estates.book(estates.after(change.number() - 1)));
        Defects defects = new Defects();
        for (JsonNode edit : change.edits()) inverse.apply(new Place(edit, "", defects));
        if (!defects.isEmpty())
            throw new IllegalStateException("The journal holds an edit that does not fit: " + defects.all());
        return inverse.edits();
    }

    private Change found(Context ctx) {
        String number = ctx.pathParam("number");
        Optional<Change> change =
                number.matches("\\d{1,18}") ? estates.change(Long.parseLong(number)) : Optional.empty();
        return change.orElseThrow(() -> Problem.unknown("There is no change " + number + "."));
    }

    static ObjectNode receipt(Change change) {
        return Answers.object()
                .put("number", change.number())
                .put("at", change.at().toString())
                .put("author", change.author())
                .put("proven", change.proven())
                .put("note", change.note())
                .put("planned", change.planned().map(Instant::toString).orElse(null))
                .put(
                        "late",
                        change.planned()
                                .filter(p -> p.plus(LATE).isBefore(change.at()))
                                .isPresent());
    }

    private Wanted read(JsonNode body) {
        Present present = estates.present();
        Defects defects = new Defects();
        Place root = new Place(body, "", defects);
        if (!root.isObject()) throw Problem.defects(422, "Not a change", defects.all());
        Optional<Long> base =
                root.required("base").flatMap(Place::integer).map(b -> b.bitLength() < 63 ? b.longValue() : -1);
        base.filter(b -> b < 0 || b > present.change())
                .ifPresent(b -> root.member("base")
                        .orElseThrow()
                        .defect("must be the number of a published change; the last is " + present.change()));
        Optional<String> note =
                root.member("note").filter(p -> !p.node().isNull()).flatMap(Place::text);
        note.filter(n -> n.length() > LONGEST_NOTE)
                .ifPresent(n -> root.member("note")
                        .orElseThrow()
                        .defect("must not be longer than " + LONGEST_NOTE + " characters"));
        Bodies.wellFormed(root);
        Optional<Place> list = root.required("edits");
        List<Place> places = list.map(Place::items).orElse(List.of());
        if (list.isPresent() && list.get().node().isArray() && places.isEmpty())
            list.get().defect("must hold at least one edit");
        if (!defects.isEmpty()) throw Problem.defects(422, "Not a change", defects.all());

        Carried carried = new Carried(estates, present);
        for (Place place : places) carried.add(place.node(), place.pointer(), base.get());
        ArrayNode clashes = Json.NODES.arrayNode();
        carried.items().forEach(i -> i.clashes().forEach(clashes::add));
        if (!clashes.isEmpty())
            throw Problem.refused(
                            409,
                            "Base moved",
                            "Somebody published meanwhile and touched the same parts; nothing was stored. The estate stands at change "
                                    + present.change() + ".")
                    .with("clashes", clashes)
                    .with("change", Json.NODES.numberNode(present.change()));
        carried.items().forEach(i -> i.refusals().forEach(d -> defects.add(d.pointer(), d.message())));
        if (!defects.isEmpty()) throw Problem.defects(422, "Refused", defects.all());
        return new Wanted(carried, note.orElse(""));
    }
}
