package leanladder.server.today;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import leanladder.server.draft.DraftService;
import leanladder.server.http.QueryParameters;
import leanladder.server.http.RequestContext;
import leanladder.server.http.Response;
import leanladder.server.http.RouteGroup;
import leanladder.server.http.RouteRegistry;
import leanladder.server.query.QueryContext;
import leanladder.server.state.Timeline;
import leanladder.store.Store;
import leanladder.store.drafts.DraftLine;
import leanladder.store.journal.Change;

/** What waits for a decision today, in sentences, the most urgent first. */
public record TodayRoutes(
        Store store, Timeline timeline, QueryContext.Reader queries, DraftService drafts, List<TodoSource> sources)
        implements RouteGroup {
    private static final int CHANGES = 50;
    private static final Duration LONG_AGO = Duration.ofDays(14);

    /**
     * The matters of the day.
     *
     * @param next what comes next, in a sentence, for a day on which nothing waits; missing where nothing does
     */
    public record Today(Instant now, List<TodoItem> matters, Optional<String> next) {}

    @Override
    public void routes(RouteRegistry routeRegistry) {
        routeRegistry.get("/today", this::today, Today.class);
    }

    private Response today(RequestContext requestContext) {
        QueryParameters queryParameters = requestContext.query(Set.of("since"));
        QueryContext queryContext = queries.read(QueryParameters.none());
        List<TodoItem> matters = new ArrayList<>();
        for (TodoSource room : sources) matters.addAll(room.of(queryContext));
        matters.addAll(planned(queryContext));
        queryParameters
                .instant("since", queryContext.estate().organisation().zone())
                .flatMap(since -> happened(queryContext, since))
                .ifPresent(matters::add);
        matters.sort(Comparator.comparing(TodoItem::topic)
                .thenComparing(m -> m.due().orElse(Instant.MAX))
                .thenComparing(TodoItem::key));
        Optional<String> next = matters.stream()
                .filter(m -> m.due().isPresent())
                .min(Comparator.comparing(m -> m.due().get()))
                .map(TodoItem::words);
        return Response.of(new Today(timeline.now(), matters, next));
    }

    /** Drafts that publish themselves, and those that could not. */
    private List<TodoItem> planned(QueryContext queryContext) {
        List<TodoItem> planned = new ArrayList<>();
        for (DraftLine draft : drafts.lines()) {
            String name = draft.name().isEmpty() ? "A draft" : "The draft “" + draft.name() + "”";
            draft.stuck()
                    .ifPresent(why -> planned.add(new TodoItem(
                            TodoItem.Topic.PLANNED,
                            "stuck:" + draft.id() + ":" + draft.version(),
                            name
                                    + (isYetToCome(draft)
                                            ? " will not publish itself on "
                                                    + queryContext
                                                            .estateFormatter()
                                                            .moment(draft.due().get()) + ": "
                                            : " could not publish itself: ")
                                    + why,
                            "/review?when=draft:" + draft.id(),
                            draft.due().filter(due -> isYetToCome(draft)))));
            draft.due()
                    .filter(due -> draft.stuck().isEmpty())
                    .ifPresent(due -> planned.add(new TodoItem(
                            TodoItem.Topic.PLANNED,
                            "planned:" + draft.id() + ":" + draft.version(),
                            name + " publishes itself on "
                                    + queryContext.estateFormatter().moment(due) + ".",
                            "/review?when=draft:" + draft.id(),
                            Optional.of(due))));
        }
        return planned;
    }

    private boolean isYetToCome(DraftLine draft) {
        return draft.due().filter(due -> due.isAfter(timeline.now())).isPresent();
    }

    /** What was published since an instant, where anything was. */
    private Optional<TodoItem> happened(QueryContext queryContext, Instant since) {
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
        return Optional.of(new TodoItem(
                TodoItem.Topic.HAPPENED,
                "happened:" + timeline.change(),
                "Since " + queryContext.estateFormatter().moment(from) + " "
                        + (count == 1 ? "one change was published" : String.format("%,d changes were published", count))
                        + ", by " + who + ".",
                "/logbook",
                Optional.empty()));
    }
}
