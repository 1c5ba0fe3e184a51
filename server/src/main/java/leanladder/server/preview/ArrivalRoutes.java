package leanladder.server.preview;

import java.time.DayOfWeek;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.time.format.DateTimeFormatter;
import java.time.temporal.TemporalAdjusters;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import leanladder.catalogue.Setting;
import leanladder.estate.Ring;
import leanladder.preview.ScheduledOpening;
import leanladder.preview.UpcomingReleases;
import leanladder.server.http.ProblemException;
import leanladder.server.http.QueryParameters;
import leanladder.server.http.RequestContext;
import leanladder.server.http.Response;
import leanladder.server.http.RouteGroup;
import leanladder.server.http.RouteRegistry;
import leanladder.server.query.QueryContext;
import org.roaringbitmap.RoaringBitmap;

/** What came in the last two weeks and comes in the next six, week by week, with who gets it; also as a text that can be sent round. */
public record ArrivalRoutes(QueryContext.Reader queries) implements RouteGroup {
    private static final int WEEKS_BEFORE = 2;
    private static final int WEEKS_AFTER = 6;
    private static final DateTimeFormatter DAY = DateTimeFormatter.ofPattern("EEE d MMM", Locale.UK);
    private static final DateTimeFormatter WEEK = DateTimeFormatter.ofPattern("d MMMM", Locale.UK);

    /**
     * Something that comes, or came.
     *
     * @param whom the ring, or the target of an early opening, in words
     * @param ring its id, where it comes to one @param to the same, or the target, as the estate file writes it
     * @param accounts how many get it by this, and by nothing before it; who are asked to consent among them
     * @param planned whether it is only intended
     */
    public record ArrivalLine(
            Instant at,
            String day,
            String setting,
            String title,
            Optional<String> app,
            String whom,
            Optional<String> ring,
            String to,
            int accounts,
            boolean planned,
            Optional<String> held,
            Optional<String> guide) {}

    /** A week. @param begins its Monday */
    public record ArrivalWeek(LocalDate begins, String words, List<ArrivalLine> arrivals) {}

    /** The weeks in which something comes. @param whom to whom, where not all are asked about @param text the same, to be pasted into a newsletter */
    public record Arrivals(Optional<String> whom, List<ArrivalWeek> weeks, String text) {}

    @Override
    public void routes(RouteRegistry routeRegistry) {
        routeRegistry.get("/arrivals", this::arrivals, Arrivals.class);
    }

    private Response arrivals(RequestContext requestContext) {
        QueryParameters queryParameters = requestContext.query(QueryParameters.about("ring", "track", "who"));
        QueryContext queryContext = queries.read(queryParameters);
        ZoneId zone = queryContext.estate().organisation().zone();
        LocalDate monday = queryContext
                .question()
                .at()
                .atZone(zone)
                .toLocalDate()
                .with(TemporalAdjusters.previousOrSame(DayOfWeek.MONDAY));
        Optional<String> ring = queryParameters.one("ring");
        ring.filter(r -> queryContext.estate().ring(r).isEmpty()).ifPresent(r -> {
            throw ProblemException.unknown("There is no ring \"" + r + "\".");
        });
        Optional<String> track = queryParameters.one("track");
        track.filter(t -> queryContext.estate().track(t).isEmpty()).ifPresent(t -> {
            throw ProblemException.unknown("There is no preview track \"" + t + "\".");
        });
        Map<LocalDate, List<ArrivalLine>> byWeek = new TreeMap<>();
        RoaringBitmap about = whom(queryParameters, queryContext);
        for (UpcomingReleases upcomingReleases : UpcomingReleases.between(
                queryContext.estate(),
                queryContext.directory(),
                queryContext.instantResolution().columnResolver()::releases,
                monday.minusWeeks(WEEKS_BEFORE).atStartOfDay(zone).toInstant(),
                monday.plusWeeks(WEEKS_AFTER + 1L).atStartOfDay(zone).toInstant())) {
            ScheduledOpening scheduledOpening = upcomingReleases.coming();
            RoaringBitmap accounts = RoaringBitmap.and(upcomingReleases.accounts(), about);
            if (queryParameters.one("who").isPresent() && accounts.isEmpty()) continue;
            if (ring.isPresent()
                    && scheduledOpening
                            .ring()
                            .map(Ring::id)
                            .filter(ring.get()::equals)
                            .isEmpty()) continue;
            if (track.isPresent() && !onTrack(queryContext, scheduledOpening, track.get())) continue;
            LocalDate week = scheduledOpening
                    .at()
                    .atZone(zone)
                    .toLocalDate()
                    .with(TemporalAdjusters.previousOrSame(DayOfWeek.MONDAY));
            byWeek.computeIfAbsent(week, w -> new ArrayList<>())
                    .add(line(queryContext, scheduledOpening, accounts.getCardinality(), zone));
        }
        List<ArrivalWeek> weeks = byWeek.entrySet().stream()
                .map(w -> new ArrivalWeek(w.getKey(), words(w.getKey(), monday), w.getValue()))
                .toList();
        return Response.of(new Arrivals(
                queryParameters
                        .one("who")
                        .map(w -> queryContext
                                .estateFormatter()
                                .target(queryParameters.target("who", queryContext.estate(), true))),
                weeks,
                text(weeks)));
    }

    private static boolean onTrack(QueryContext queryContext, ScheduledOpening scheduledOpening, String track) {
        return queryContext.estate().trackOf(scheduledOpening.release()).id().equals(track);
    }

    private static String words(LocalDate week, LocalDate now) {
        if (week.equals(now)) return "This week";
        if (week.equals(now.plusWeeks(1))) return "Next week";
        if (week.equals(now.minusWeeks(1))) return "Last week";
        return "The week of " + WEEK.format(week);
    }

    /** Whom it is asked about: everyone, or those whom a target holds. */
    private static RoaringBitmap whom(QueryParameters queryParameters, QueryContext queryContext) {
        if (queryParameters.one("who").isEmpty())
            return queryContext.directory().active();
        return queryContext.directory().holding(queryParameters.target("who", queryContext.estate(), true));
    }

    private static ArrivalLine line(
            QueryContext queryContext, ScheduledOpening scheduledOpening, int accounts, ZoneId zone) {
        Setting setting = queryContext.setting(scheduledOpening.release().setting());
        return new ArrivalLine(
                scheduledOpening.at(),
                DAY.format(scheduledOpening.at().atZone(zone)),
                setting.key(),
                setting.title(),
                queryContext.app(setting),
                scheduledOpening
                        .ring()
                        .map(Ring::name)
                        .orElseGet(() -> queryContext
                                .estateFormatter()
                                .target(scheduledOpening.target().orElseThrow())),
                scheduledOpening.ring().map(Ring::id),
                scheduledOpening.whom(),
                accounts,
                scheduledOpening.planned(),
                scheduledOpening.release().held(),
                scheduledOpening.release().guide());
    }

    private static String text(List<ArrivalWeek> weeks) {
        StringBuilder text = new StringBuilder();
        for (ArrivalWeek week : weeks) {
            if (text.length() > 0) text.append('\n');
            text.append(week.words).append('\n');
            for (ArrivalLine a : week.arrivals) {
                text.append("- ").append(a.day).append(": ").append(a.title);
                a.app.ifPresent(app -> text.append(" (").append(app).append(')'));
                text.append(", for ").append(a.whom);
                if (a.planned) text.append(a.held.isPresent() ? ", held" : ", planned");
                a.guide.ifPresent(guide -> text.append(". ").append(guide));
                text.append('\n');
            }
        }
        return text.toString();
    }
}
