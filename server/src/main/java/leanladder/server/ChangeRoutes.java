package leanladder.server;

import com.fasterxml.jackson.core.JsonParser;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import io.javalin.http.Context;
import java.io.IOException;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import leanladder.change.Edit;
import leanladder.change.EditWords;
import leanladder.change.Inverse;
import leanladder.change.PolicyBook;
import leanladder.change.Ripple;
import leanladder.estate.Defects;
import leanladder.estate.Place;
import leanladder.resolve.Ground;
import leanladder.resolve.Question;
import leanladder.store.Change;
import leanladder.text.Json;

/** Changes: the only way to write. */
record ChangeRoutes(Estates estates) {
    private static final int PEOPLE_SHOWN = 200;
    private static final int MOST_PEOPLE = 5000;
    private static final int LONGEST_NOTE = 4000;
    private static final int CHANGES_SHOWN = 50;
    private static final int MOST_CHANGES = 500;

    /** A request that has been read: edits carried out in a book of the present policies. */
    private record Wanted(Present base, PolicyBook book, String note, ArrayNode edits, ArrayNode words) {
        Ground after() {
            return base.ground().withPolicies(book.policies(), book.ranking());
        }
    }

    void post(Context ctx) throws IOException {
        Query query = new Query(ctx, estates.now(), Set.of("preview", "limit", "after", "effect"), Set.of());
        JsonNode body = body(ctx);
        if (ctx.queryParamMap().containsKey("preview")) {
            Wanted wanted = read(body);
            Answers.json(
                    ctx,
                    new RippleTelling(wanted.base, ripple(wanted), estates.now())
                            .json(
                                    query.number("limit", PEOPLE_SHOWN, MOST_PEOPLE),
                                    query.one("after"),
                                    query.one("effect")));
            return;
        }
        // One at a time from reading to storing, so that what was checked is what is stored.
        synchronized (estates) {
            Wanted wanted = read(body);
            Ripple ripple = ripple(wanted);
            Change change = estates.publish(
                    wanted.base,
                    wanted.book,
                    wanted.note,
                    wanted.edits,
                    wanted.words,
                    new RippleTelling(wanted.base, ripple, estates.now()).summary());
            ObjectNode receipt = receipt(change);
            receipt.set("ripple", RippleTelling.counts(ripple));
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
        for (JsonNode edit : change.edits())
            if (edit.path("kind").asText().equals("replace-estate"))
                throw Problem.refused(
                        422,
                        "Cannot be undone",
                        "Change " + change.number()
                                + " replaced the whole estate. Put an export from before it in its place instead.");
        PolicyBook book =
                new PolicyBook(estates.after(change.number() - 1).ground().estate());
        Inverse inverse = new Inverse(book);
        Defects defects = new Defects();
        for (JsonNode edit : change.edits()) book.apply(new Place(edit, "", defects), inverse::add);
        if (!defects.isEmpty())
            throw new IllegalStateException("The journal holds an edit that does not fit: " + defects.all());
        ObjectNode told = Answers.object();
        told.put("base", change.number());
        told.set("edits", inverse.edits());
        Answers.json(ctx, told);
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
                .put("note", change.note());
    }

    private static JsonNode body(Context ctx) throws IOException {
        try (JsonParser parser = Json.MAPPER
                .getFactory()
                .createParser(new java.io.InputStreamReader(
                        ctx.bodyInputStream(),
                        java.nio.charset.StandardCharsets.UTF_8
                                .newDecoder()
                                .onMalformedInput(java.nio.charset.CodingErrorAction.REPORT)))) {
            parser.enable(JsonParser.Feature.STRICT_DUPLICATE_DETECTION);
            JsonNode body = Json.MAPPER.readTree(parser);
            if (body == null || body.isMissingNode())
                throw Problem.wrongInput("The body is empty; it must be {\"base\", \"edits\", \"note\"} as JSON.");
            if (parser.nextToken() != null) throw Problem.wrongInput("The body goes on after its JSON object.");
            return body;
        } catch (com.fasterxml.jackson.core.JsonProcessingException e) {
            throw Problem.wrongInput("The body is not JSON: "
                    + e.getOriginalMessage().lines().findFirst().orElse("it cannot be read"));
        } catch (java.nio.charset.CharacterCodingException e) {
            throw Problem.wrongInput("The body is not UTF-8 text.");
        }
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
        wellFormed(root);
        Optional<Place> list = root.required("edits");
        List<Place> places = list.map(Place::items).orElse(List.of());
        if (list.isPresent() && list.get().node().isArray() && places.isEmpty())
            list.get().defect("must hold at least one edit");
        if (!defects.isEmpty()) throw Problem.defects(422, "Not a change", defects.all());

        List<Change> since = base.get() < present.change() ? estates.since(base.get()) : List.of();
        PolicyBook book = new PolicyBook(present.ground().estate());
        ArrayNode clashes = Json.NODES.arrayNode();
        ArrayNode edits = Json.NODES.arrayNode();
        ArrayNode words = Json.NODES.arrayNode();
        EditWords telling = new EditWords(present.ground().estate(), estates.now());
        for (Place place : places) {
            int before = defects.size();
            Optional<Edit> edit = book.apply(place, e -> words.add(telling.of(e, book)));
            Clashes.between(
                            place.node(),
                            edit.isPresent() ? words.get(words.size() - 1).asText() : "",
                            since)
                    .forEach(clashes::add);
            if (edit.isPresent()) edits.add(journalled(place.node(), edit.get()));
            else if (defects.size() == before) place.defect("cannot be carried out");
        }
        if (!clashes.isEmpty())
            throw Problem.refused(
                            409,
                            "Base moved",
                            "Somebody published meanwhile and touched the same parts; nothing was stored. The estate stands at change "
                                    + present.change() + ".")
                    .with("clashes", clashes)
                    .with("change", Json.NODES.numberNode(present.change()));
        if (!defects.isEmpty()) throw Problem.defects(422, "Refused", defects.all());
        return new Wanted(present, book, note.orElse(""), edits, words);
    }

    /** Half a surrogate pair cannot be stored or sent on. */
    private static void wellFormed(Place place) {
        if (place.node().isTextual()
                && !java.nio.charset.StandardCharsets.UTF_8
                        .newEncoder()
                        .canEncode(place.node().textValue())) place.defect("must be well-formed Unicode");
        if (place.node().isObject())
            place.members().forEach((name, member) -> {
                if (!java.nio.charset.StandardCharsets.UTF_8.newEncoder().canEncode(name))
                    place.defect("has a member whose name is not well-formed Unicode");
                wellFormed(member);
            });
        if (place.node().isArray()) place.items().forEach(ChangeRoutes::wellFormed);
    }

    /** An edit as the journal keeps it: a policy that was given an id carries it. */
    private static JsonNode journalled(JsonNode sent, Edit edit) {
        if (!(edit instanceof Edit.AddPolicy add)) return sent;
        ObjectNode whole = ((ObjectNode) sent).deepCopy();
        whole.set("policy", add.body());
        return whole;
    }

    private Ripple ripple(Wanted wanted) {
        return new Ripple(
                wanted.base.ground(), wanted.after(), Question.at(estates.now()), wanted.book.touchedSettings());
    }
}
