package leanladder.demo;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import leanladder.change.Book;
import leanladder.change.Inverse;
import leanladder.document.Defects;
import leanladder.document.Json;
import leanladder.document.Place;
import leanladder.estate.Estate;
import leanladder.estate.read.EstateReader;
import leanladder.estate.read.InvalidEstate;
import leanladder.resolve.Ground;

/**
 * Some weeks of changes that lead to the demo estate. The estate that they begin with is the demo estate with each of them taken
 * back, the last one first; what was published is the inverse of that.
 */
public final class DemoHistory {
    private static final int LOADED_DAYS_AGO = 23;
    /** The Thursday with which the week begins around which the demo's dates stand. */
    private static final String WEEK = "2026-11-26";

    private final ObjectNode estate = new DemoEstate().build();
    private final List<ObjectNode> changes = new ArrayList<>();

    /** The estate that it begins with, and the changes: {@code {"days", "at", "author", "note", "edits"}}, with {@code minutes} in
     * place of the day for what was published just now, the oldest first. */
    public ObjectNode build() {
        ArrayNode told = (ArrayNode) DemoEstate.data("history.yaml");
        for (int i = told.size() - 1; i >= 0; i--) takeBack(told.get(i));
        ObjectNode history = Json.NODES.objectNode();
        history.put("week", WEEK);
        history.put("days", LOADED_DAYS_AGO).put("at", "08:30").put("author", "Vera Quill");
        history.put("note", "Loaded when Lean Ladder was started for the first time");
        history.set("estate", estate);
        history.putArray("changes").addAll(changes);
        history.set("requests", DemoEstate.data("requests.yaml"));
        history.set("checks", DemoEstate.data("checks.yaml"));
        return history;
    }

    private void takeBack(JsonNode told) {
        Book book = new Book(new Ground(read()), (section, key) -> part(estate.withArray(section.member()), key));
        Inverse inverse = new Inverse(book.copy());
        for (JsonNode edit : told.get("before")) {
            Defects defects = new Defects();
            if (!inverse.apply(new Place(edit, "", defects))
                    || book.apply(new Place(edit, "", defects)).isEmpty())
                throw new IllegalStateException(told.get("note") + ": " + defects.all());
        }
        ObjectNode change = Json.NODES.objectNode();
        for (String member : List.of("days", "at", "minutes", "author", "note"))
            if (told.has(member)) change.set(member, told.get(member));
        change.set("edits", inverse.edits());
        changes.add(0, change);
        write(book);
    }

    private Estate read() {
        try {
            return EstateReader.read(new ByteArrayInputStream(Json.MAPPER.writeValueAsBytes(estate)), part -> {})
                    .estate();
        } catch (IOException | InvalidEstate e) {
            throw new IllegalStateException(e);
        }
    }

    /** Writes what edits left into the estate file. */
    private void write(Book book) {
        for (Book.Written written : book.removed()) {
            ArrayNode parts = estate.withArray(written.section());
            for (int i = parts.size() - 1; i >= 0; i--) if (id(parts.get(i)).equals(written.key())) parts.remove(i);
        }
        for (Book.Written written : book.written()) {
            ObjectNode there = part(estate.withArray(written.section()), written.key());
            there.removeAll();
            there.put("id", written.key());
            there.setAll(written.body());
        }
        book.writtenRanking().ifPresent(ranking -> estate.set("ranking", ranking));
    }

    private static String id(JsonNode part) {
        return part.get("id").asText();
    }

    private static ObjectNode part(ArrayNode parts, String key) {
        Map<String, ObjectNode> byId = new HashMap<>();
        parts.forEach(p -> byId.put(id(p), (ObjectNode) p));
        ObjectNode found = byId.get(key);
        if (found == null) throw new IllegalStateException("There is no " + key);
        return found;
    }
}
