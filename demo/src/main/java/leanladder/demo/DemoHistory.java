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
import leanladder.edit.session.EditSession;
import leanladder.edit.session.InverseBuilder;
import leanladder.estate.Estate;
import leanladder.estate.read.EstateReader;
import leanladder.estate.read.InvalidEstateException;
import leanladder.json.Defects;
import leanladder.json.Json;
import leanladder.json.JsonCursor;
import leanladder.resolve.CompiledEstate;

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
        EditSession editSession = new EditSession(
                new CompiledEstate(read()), (section, key) -> part(estate.withArray(section.member()), key));
        InverseBuilder inverseBuilder = new InverseBuilder(editSession.copy());
        for (JsonNode edit : told.get("before")) {
            Defects defects = new Defects();
            if (!inverseBuilder.apply(new JsonCursor(edit, "", defects))
                    || editSession.apply(new JsonCursor(edit, "", defects)).isEmpty())
                throw new IllegalStateException(told.get("note") + ": " + defects.all());
        }
        ObjectNode change = Json.NODES.objectNode();
        for (String member : List.of("days", "at", "minutes", "author", "note"))
            if (told.has(member)) change.set(member, told.get(member));
        change.set("edits", inverseBuilder.edits());
        changes.add(0, change);
        write(editSession);
    }

    private Estate read() {
        try {
            return EstateReader.read(
                            new ByteArrayInputStream(Json.MAPPER.writeValueAsBytes(estate)), entityRecord -> {})
                    .estate();
        } catch (IOException | InvalidEstateException e) {
            throw new IllegalStateException(e);
        }
    }

    /** Writes what edits left into the estate file. */
    private void write(EditSession editSession) {
        for (EditSession.WrittenEntity writtenEntity : editSession.removed()) {
            ArrayNode parts = estate.withArray(writtenEntity.section());
            for (int i = parts.size() - 1; i >= 0; i--)
                if (id(parts.get(i)).equals(writtenEntity.key())) parts.remove(i);
        }
        for (EditSession.WrittenEntity writtenEntity : editSession.written()) {
            ObjectNode there = part(estate.withArray(writtenEntity.section()), writtenEntity.key());
            there.removeAll();
            there.put("id", writtenEntity.key());
            there.setAll(writtenEntity.body());
        }
        editSession.writtenRanking().ifPresent(ranking -> estate.set("ranking", ranking));
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
