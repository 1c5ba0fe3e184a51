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
import leanladder.preview.Arriving;
import leanladder.preview.Coming;
import leanladder.server.draft.Inquiry;
import leanladder.server.http.Answer;
import leanladder.server.http.Api;
import leanladder.server.http.Call;
import leanladder.server.http.Problem;
import leanladder.server.http.Query;
import leanladder.server.http.Room;
import org.roaringbitmap.RoaringBitmap;

/** What came in the last two weeks and comes in the next six, week by week, with who gets it; also as a text that can be sent round. */
public record ArrivalRoutes(Inquiry.Reader inquiries) implements Room {
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
    public void routes(Api api) {
        api.get("/arrivals", this::arrivals, Arrivals.class);
    }

    private Answer arrivals(Call call) {
        Query query = call.query(Query.about("ring", "who"));
        Inquiry inquiry = inquiries.of(query);
        ZoneId zone = inquiry.estate().organisation().zone();
        LocalDate monday = inquiry.question()
                .at()
                .atZone(zone)
                .toLocalDate()
                .with(TemporalAdjusters.previousOrSame(DayOfWeek.MONDAY));
        Optional<String> ring = query.one("ring");
        List<Ring> rings = inquiry.estate().rings();
        ring.filter(r -> rings.stream().noneMatch(k -> k.id().equals(r))).ifPresent(r -> {
            throw Problem.unknown("There is no ring \"" + r + "\".");
        });
        Map<LocalDate, List<ArrivalLine>> byWeek = new TreeMap<>();
        RoaringBitmap about = whom(query, inquiry);
        for (Arriving arriving : Arriving.between(
                inquiry.estate(),
                inquiry.directory(),
                inquiry.moment().solution().releases(),
                monday.minusWeeks(WEEKS_BEFORE).atStartOfDay(zone).toInstant(),
                monday.plusWeeks(WEEKS_AFTER + 1L).atStartOfDay(zone).toInstant())) {
            Coming coming = arriving.coming();
            RoaringBitmap accounts = RoaringBitmap.and(arriving.accounts(), about);
            if (query.one("who").isPresent() && accounts.isEmpty()) continue;
            if (ring.isPresent()
                    && coming.ring().map(Ring::id).filter(ring.get()::equals).isEmpty()) continue;
            LocalDate week =
                    coming.at().atZone(zone).toLocalDate().with(TemporalAdjusters.previousOrSame(DayOfWeek.MONDAY));
            byWeek.computeIfAbsent(week, w -> new ArrayList<>())
                    .add(line(inquiry, coming, accounts.getCardinality(), zone));
        }
        List<ArrivalWeek> weeks = byWeek.entrySet().stream()
                .map(w -> new ArrivalWeek(w.getKey(), words(w.getKey(), monday), w.getValue()))
                .toList();
        return Answer.of(new Arrivals(
                query.one("who").map(w -> inquiry.wording().target(query.target("who", inquiry.estate(), true))),
                weeks,
                text(weeks)));
    }

    private static String words(LocalDate week, LocalDate now) {
        if (week.equals(now)) return "This week";
        if (week.equals(now.plusWeeks(1))) return "Next week";
        if (week.equals(now.minusWeeks(1))) return "Last week";
        return "The week of " + WEEK.format(week);
    }

    /** Whom it is asked about: everyone, or those whom a target holds. */
    private static RoaringBitmap whom(Query query, Inquiry inquiry) {
        if (query.one("who").isEmpty()) return inquiry.directory().active();
        return inquiry.directory().holding(query.target("who", inquiry.estate(), true));
    }

    private static ArrivalLine line(Inquiry inquiry, Coming coming, int accounts, ZoneId zone) {
        Setting setting = inquiry.setting(coming.release().setting());
        return new ArrivalLine(
                coming.at(),
                DAY.format(coming.at().atZone(zone)),
                setting.key(),
                setting.title(),
                inquiry.app(setting),
                coming.ring()
                        .map(Ring::name)
                        .orElseGet(
                                () -> inquiry.wording().target(coming.target().orElseThrow())),
                coming.ring().map(Ring::id),
                coming.whom(),
                accounts,
                coming.planned(),
                coming.release().held(),
                Optional.of(coming.release().source().path("guide").asText("")).filter(g -> !g.isEmpty()));
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
