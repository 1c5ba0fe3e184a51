package leanladder.server.files;

import com.fasterxml.jackson.databind.JsonNode;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalTime;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import leanladder.estate.read.InvalidEstateException;
import leanladder.json.Json;
import leanladder.server.draft.RippleFormatter;
import leanladder.server.state.Publisher;
import leanladder.server.state.RebasedDraft;
import leanladder.server.state.Timeline;
import leanladder.store.Store;
import leanladder.store.checks.CheckTable;
import leanladder.store.db.WriteRequest;

/** Loads an estate as it stood some weeks ago and publishes what was changed since then, each at its own instant. */
public final class DemoHistoryLoader {
    /** A clock that stands still until it is set. */
    private static final class Hands extends Clock {
        private Instant now = Instant.EPOCH;

        @Override
        public Instant instant() {
            return now;
        }

        @Override
        public ZoneId getZone() {
            return ZoneOffset.UTC;
        }

        @Override
        public Clock withZone(ZoneId zone) {
            return this;
        }
    }

    private DemoHistoryLoader() {}

    /**
     * Loads a history into an empty store.
     *
     * @param written {@code estate}, {@code changes} of edits, {@code requests} of people, and {@code checks}; all with {@code days} ago and {@code at} a time of day, or
     *     {@code minutes} ago, {@code author} and {@code note}. With {@code week}, the first day of the week in which it is meant to be
     *     loaded, its dates move by whole weeks, so that what is a week ahead there is a week ahead here.
     * @throws InvalidEstateException when the estate has defects; nothing is stored then
     */
    public static void load(Store store, JsonNode written, Instant now) throws IOException, InvalidEstateException {
        JsonNode history = DateShifter.moved(written, now);
        JsonNode estate = history.get("estate");
        ZoneId zone = ZoneId.of(estate.at("/organisation/timeZone").asText("UTC"));
        Hands hands = new Hands();
        hands.now = instant(history, zone, now);
        Timeline timeline = new Timeline(store, hands);
        Publisher publisher = new Publisher(store, timeline);
        publisher.replace(
                WriteRequest.by(history.get("author").asText(), hands.now),
                new ByteArrayInputStream(Json.MAPPER.writeValueAsBytes(estate)),
                Optional.empty(),
                history.get("note").asText());
        for (JsonNode change : history.get("changes")) {
            hands.now = instant(change, zone, now);
            String author = change.get("author").asText();
            List<RebasedDraft.RequestedEdit> edits = new ArrayList<>();
            change.get("edits").forEach(edit -> edits.add(new RebasedDraft.RequestedEdit(edit, timeline.change())));
            publisher.publish(
                    WriteRequest.by(author, hands.now),
                    timeline.rebasedDraft().with(edits, "/edits", 0),
                    new Publisher.PublishOptions(
                            author,
                            change.get("note").asText(),
                            p -> RippleFormatter.from(p).journalled(),
                            Optional.empty(),
                            Optional.empty()),
                    ready -> {
                        if (!ready.stands())
                            throw new IllegalStateException("The history does not fit its estate: " + change);
                    });
        }
        for (JsonNode request : history.path("requests")) ask(store, request, instant(request, zone, now));
        for (JsonNode check : history.path("checks"))
            store.checks()
                    .write(
                            WriteRequest.by(check.get("author").asText(), instant(check, zone, now)),
                            new CheckTable.CheckSubject(
                                    check.get("who").asText(),
                                    check.get("setting").asText(),
                                    Optional.empty()),
                            timeline.change(),
                            now.minus(Duration.ofMinutes(check.get("due").asLong())));
    }

    /** What people asked for; none of it is granted by the changes. */
    private static void ask(Store store, JsonNode request, Instant at) {
        store.requests()
                .ask(
                        WriteRequest.by(request.get("account").asText(), at),
                        request.get("account").asText(),
                        request.get("setting").asText(),
                        Optional.empty(),
                        request.get("wanted"),
                        request.get("words").asText());
    }

    private static Instant instant(JsonNode told, ZoneId zone, Instant now) {
        if (told.has("minutes"))
            return now.minus(Duration.ofMinutes(told.get("minutes").asLong()));
        return now.atZone(zone)
                .toLocalDate()
                .minusDays(told.get("days").asLong())
                .atTime(LocalTime.parse(told.get("at").asText()))
                .atZone(zone)
                .toInstant();
    }
}
