package leanladder.server.today;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import leanladder.server.draft.DraftDesk;
import leanladder.server.draft.Inquiry;
import leanladder.server.http.Answer;
import leanladder.server.http.Api;
import leanladder.server.http.Call;
import leanladder.server.http.Query;
import leanladder.server.http.Room;
import leanladder.server.live.Timeline;
import leanladder.store.Store;
import leanladder.store.drafts.DraftLine;
import leanladder.store.journal.Change;

/** What waits for a decision today, in sentences, the most urgent first. */
public record TodayRoutes(
        Store store, Timeline timeline, Inquiry.Reader inquiries, DraftDesk drafts, List<Matters> rooms)
        implements Room {
    private static final int CHANGES = 50;
    private static final Duration LONG_AGO = Duration.ofDays(14);

    /**
     * The matters of the day.
     *
     * @param next what comes next, in a sentence, for a day on which nothing waits; missing where nothing does
     */
    public record Today(Instant now, List<Matter> matters, Optional<String> next) {}

    @Override
    public void routes(Api api) {
        api.get("/today", this::today, Today.class);
    }

    private Answer today(Call call) {
        Query query = call.query(Set.of("since"));
        Inquiry inquiry = inquiries.of(Query.none());
        List<Matter> matters = new ArrayList<>();
        for (Matters room : rooms) matters.addAll(room.of(inquiry));
        matters.addAll(planned(inquiry));
        query.instant("since", inquiry.estate().organisation().zone())
                .flatMap(since -> happened(inquiry, since))
                .ifPresent(matters::add);
        matters.sort(Comparator.comparing(Matter::topic)
                .thenComparing(m -> m.due().orElse(Instant.MAX))
                .thenComparing(Matter::key));
        Optional<String> next = matters.stream()
                .filter(m -> m.due().isPresent())
                .min(Comparator.comparing(m -> m.due().get()))
                .map(Matter::words);
        return Answer.of(new Today(timeline.now(), matters, next));
    }

    /** Drafts that publish themselves, and those that could not. */
    private List<Matter> planned(Inquiry inquiry) {
        List<Matter> planned = new ArrayList<>();
        for (DraftLine draft : drafts.lines()) {
            String name = draft.name().isEmpty() ? "A draft" : "The draft “" + draft.name() + "”";
            draft.stuck()
                    .ifPresent(why -> planned.add(new Matter(
                            Matter.Topic.PLANNED,
                            "stuck:" + draft.id() + ":" + draft.version(),
                            name + " could not publish itself: " + why,
                            "/read-over?when=draft:" + draft.id(),
                            Optional.empty())));
            draft.due()
                    .filter(due -> draft.stuck().isEmpty())
                    .ifPresent(due -> planned.add(new Matter(
                            Matter.Topic.PLANNED,
                            "planned:" + draft.id() + ":" + draft.version(),
                            name + " publishes itself on " + inquiry.wording().moment(due) + ".",
                            "/read-over?when=draft:" + draft.id(),
                            Optional.of(due))));
        }
        return planned;
    }

    /** What was published since an instant, where anything was. */
    private Optional<Matter> happened(Inquiry inquiry, Instant since) {
        Instant from =
                since.isBefore(timeline.now().minus(LONG_AGO)) ? timeline.now().minus(LONG_AGO) : since;
        long before = store.journal().numberAt(from);
        long count = timeline.change() - before;
        if (count <= 0) return Optional.empty();
        Set<String> authors = new LinkedHashSet<>();
        for (Change change : store.journal().before(timeline.change() + 1, (int) Math.min(CHANGES, count)))
            authors.add(change.author());
        String who = authors.size() == 1
                ? authors.iterator().next()
                : authors.size() == 2
                        ? String.join(" and ", authors)
                        : authors.iterator().next() + " and " + (authors.size() - 1) + " others";
        return Optional.of(new Matter(
                Matter.Topic.HAPPENED,
                "happened:" + timeline.change(),
                "Since " + inquiry.wording().moment(from) + " "
                        + (count == 1 ? "one change was published" : String.format("%,d changes were published", count))
                        + ", by " + who + ".",
                "/logbook",
                Optional.empty()));
    }
}
