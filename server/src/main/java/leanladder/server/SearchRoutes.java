package leanladder.server;

import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import io.javalin.http.Context;
import java.util.Arrays;
import java.util.EnumSet;
import java.util.Locale;
import java.util.Set;

/** One search over everything that can be named. */
record SearchRoutes(Estates estates) {
    private static final int SHOWN = 12;
    private static final int MOST = 100;

    void search(Context ctx) {
        Query query = new Query(ctx, estates.now(), Set.of("q", "kinds", "limit", "draft"), Set.of());
        Present present = query.one("draft").map(estates::after).orElseGet(estates::present);
        String text = query.one("q").orElse("");
        ObjectNode answer = Answers.object();
        ArrayNode hits = answer.putArray("hits");
        for (SearchIndex.Hit hit : present.index().find(text, kinds(query), query.number("limit", SHOWN, MOST)))
            hits.add(json(hit, present));
        ArrayNode readings = answer.putArray("readings");
        if (query.one("kinds").isEmpty())
            for (SearchIndex.Reading reading : present.index().readings(text)) {
                ObjectNode told = readings.addObject();
                told.set("who", json(reading.who(), present));
                told.set("what", json(reading.what(), present));
            }
        Answers.json(ctx, answer);
    }

    private static Set<SearchIndex.Kind> kinds(Query query) {
        Set<SearchIndex.Kind> kinds = EnumSet.noneOf(SearchIndex.Kind.class);
        for (String word : query.one("kinds").map(k -> k.split(",")).orElse(new String[0])) {
            kinds.add(Arrays.stream(SearchIndex.Kind.values())
                    .filter(k -> k.word().equals(word.trim().toLowerCase(Locale.ROOT)))
                    .findFirst()
                    .orElseThrow(() -> Problem.wrongInput("There is no kind \"" + word
                            + "\"; there are account, unit, group, workspace, setting and policy.")));
        }
        return kinds.isEmpty() ? EnumSet.allOf(SearchIndex.Kind.class) : kinds;
    }

    private static ObjectNode json(SearchIndex.Hit hit, Present present) {
        ObjectNode told = Answers.object()
                .put("kind", hit.kind().word())
                .put("id", hit.id())
                .put("title", hit.title())
                .put("context", hit.context());
        var group = present.ground().estate().group(hit.id()).filter(g -> hit.kind() == SearchIndex.Kind.GROUP);
        if (group.filter(g -> !g.access()).isPresent()) {
            // A mailing group cannot be aimed at, but an access group that has it as a member can.
            ArrayNode offers = told.putArray("heldBy");
            for (String around : present.ground().directory().groupsAround(hit.id())) {
                var outer = present.ground().estate().group(around).orElseThrow();
                if (outer.access()) offers.addObject().put("id", outer.id()).put("name", outer.name());
            }
        }
        return told;
    }
}
