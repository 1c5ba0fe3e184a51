package leanladder.server.preview;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.security.SecureRandom;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.Base64;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import leanladder.catalogue.Setting;
import leanladder.document.Place;
import leanladder.estate.Ring;
import leanladder.estate.Target;
import leanladder.preview.Arriving;
import leanladder.preview.ReleaseSets;
import leanladder.preview.Revision;
import leanladder.server.draft.Inquiry;
import leanladder.server.http.Answer;
import leanladder.server.http.Api;
import leanladder.server.http.Call;
import leanladder.server.http.Problem;
import leanladder.server.http.Query;
import leanladder.server.http.Room;
import leanladder.server.http.Sent;
import leanladder.server.http.Written;
import leanladder.store.Store;
import leanladder.store.calendars.CalendarTable;
import leanladder.store.parts.PartTable;
import leanladder.store.parts.StoredPart;
import org.roaringbitmap.RoaringBitmap;

/**
 * Arrivals as calendars that programs subscribe to (RFC 5545): everyone's, and those of one ring, unit or person. Each is found by a
 * secret address; renewing it shuts the old one.
 */
public record CalendarRoutes(Store store, Inquiry.Reader inquiries) implements Room {
    private static final Duration KEPT = Duration.ofDays(56);
    private static final Duration AHEAD = Duration.ofDays(3650);
    private static final String EVERYONE = "everyone";
    private static final int SECRET_BYTES = 24;
    private static final SecureRandom RANDOM = new SecureRandom();

    /** A calendar. @param of whose it is @param words the same in words @param path where it is found; null where none was made yet */
    public record CalendarAddress(String of, String words, Optional<String> path, Optional<Instant> made) {}

    @Override
    public void routes(Api api) {
        api.get("/calendars", this::address, CalendarAddress.class);
        api.post("/calendars", this::renew, id -> Answer.created(made(id)), CalendarAddress.class);
        api.get("/calendars/{secret}", this::calendar);
    }

    private Answer address(Call call) {
        Query query = call.query(Set.of("of"));
        String scope = query.one("of").orElse(EVERYONE);
        Inquiry inquiry = inquiries.of(Query.none());
        String words = words(scope, inquiry);
        Optional<CalendarTable.Calendar> there = store.calendars().of(scope);
        return Answer.of(new CalendarAddress(
                scope, words, there.map(CalendarRoutes::path), there.map(CalendarTable.Calendar::made)));
    }

    private Answer renew(Call call) throws IOException {
        Sent sent = call.sent();
        Optional<String> scope = sent.root().required("of").flatMap(Place::text);
        sent.refuseDefects();
        words(scope.orElseThrow(), inquiries.of(Query.none()));
        byte[] secret = new byte[SECRET_BYTES];
        RANDOM.nextBytes(secret);
        long id = store.calendars()
                .renew(
                        call.request(),
                        scope.get(),
                        Base64.getUrlEncoder().withoutPadding().encodeToString(secret));
        return Answer.created(made(id));
    }

    private CalendarAddress made(long id) {
        CalendarTable.Calendar calendar = store.calendars().find(id).orElseThrow();
        return new CalendarAddress(
                calendar.scope(),
                words(calendar.scope(), inquiries.of(Query.none())),
                Optional.of(path(calendar)),
                Optional.of(calendar.made()));
    }

    private static String path(CalendarTable.Calendar calendar) {
        return Api.ROOT + "/calendars/" + calendar.secret() + ".ics";
    }

    /** Whose a calendar is, in words; a problem where that is nobody. */
    private static String words(String scope, Inquiry inquiry) {
        if (scope.equals(EVERYONE)) return inquiry.estate().organisation().name();
        if (scope.startsWith("ring:"))
            return inquiry.estate().rings().stream()
                    .filter(r -> ("ring:" + r.id()).equals(scope))
                    .map(Ring::name)
                    .findFirst()
                    .orElseThrow(() -> Problem.unknown("There is no ring \"" + scope.substring(5) + "\"."));
        Optional<Target> target = Target.of(scope);
        boolean known = target.filter(t -> t instanceof Target.OfUnit unit
                        ? inquiry.estate().unit(unit.id()).isPresent()
                        : t instanceof Target.OfAccount account
                                && inquiry.estate().account(account.id()).isPresent())
                .isPresent();
        if (!known)
            throw Problem.unknown("There is nobody \"" + scope
                    + "\"; a calendar is everyone's, or that of a ring:ID, a unit:ID or an account:ID.");
        return inquiry.wording().target(target.get());
    }

    private Answer calendar(Call call) {
        CalendarTable.Calendar calendar = store.calendars()
                .by(call.path("secret").replaceFirst("\\.ics$", ""))
                .orElseThrow(() -> Problem.unknown(
                        "There is no calendar at this address (any more); ask an administrator for the present one."));
        Inquiry inquiry = inquiries.of(Query.none());
        return Answer.of(new Written("text/calendar; charset=utf-8", text(calendar.scope(), inquiry)))
                .with("Cache-Control", "private, max-age=300");
    }

    private String text(String scope, Inquiry inquiry) {
        ZoneId zone = inquiry.estate().organisation().zone();
        Instant oldest = inquiry.question().at().minus(KEPT);
        List<Revision> revisions = new ArrayList<>();
        store.parts()
                .spans("releases")
                .forEach((setting, spans) -> Revision.of(setting, written(spans), zone).stream()
                        .filter(r -> !r.at().isBefore(oldest))
                        .forEach(revisions::add));
        revisions.sort(Comparator.comparing(Revision::at)
                .thenComparing(Revision::setting)
                .thenComparing(Revision::whom));
        List<Long> arranged = store.parts().spans(StoredPart.RINGS).getOrDefault("", List.of()).stream()
                .map(PartTable.Span::since)
                .toList();
        Set<Long> changes = new HashSet<>(arranged);
        revisions.forEach(r -> changes.add(r.change()));
        changes.add(1L);
        Map<Long, Instant> instants = store.journal().instants(changes);
        String installation = UUID.nameUUIDFromBytes(instants.get(1L).toString().getBytes(StandardCharsets.UTF_8))
                .toString();
        ICalendar calendar = new ICalendar("What comes: " + words(scope, inquiry));
        Scope of = new Scope(scope, inquiry, oldest);
        for (Revision revision : revisions) {
            if (!of.holds(revision)) continue;
            // What a ring is called is told as well, so that arranging the rings alters every opening told before.
            List<Long> later =
                    arranged.stream().filter(c -> c > revision.first()).toList();
            long altered = later.stream().reduce(revision.change(), Math::max);
            calendar.add(new ICalendar.Event(
                    revision.setting() + "." + revision.whom().replaceAll("[^A-Za-z0-9._-]", "-") + "@" + installation,
                    revision.sequence() + later.size(),
                    instants.get(altered),
                    revision.at().atZone(zone).toLocalDate(),
                    summary(revision, inquiry),
                    description(revision),
                    revision.guide(),
                    revision.cancelled()
                            ? ICalendar.Status.CANCELLED
                            : revision.planned() ? ICalendar.Status.TENTATIVE : ICalendar.Status.CONFIRMED));
        }
        return calendar.end();
    }

    /** How a release read change by change, with the times in which there was none. */
    private static List<Revision.Written> written(List<PartTable.Span> spans) {
        List<Revision.Written> written = new ArrayList<>();
        for (int i = 0; i < spans.size(); i++) {
            PartTable.Span span = spans.get(i);
            written.add(new Revision.Written(span.since(), Optional.of(span.body())));
            Optional<Long> gone = span.until();
            boolean next = i + 1 < spans.size();
            if (gone.isPresent() && !(next && spans.get(i + 1).since() == gone.get()))
                written.add(new Revision.Written(gone.get(), Optional.empty()));
        }
        return written;
    }

    private static String summary(Revision revision, Inquiry inquiry) {
        String title = inquiry.estate()
                .catalogue()
                .setting(revision.setting())
                .map(Setting::title)
                .orElse(revision.setting());
        Optional<String> ring = inquiry.estate().rings().stream()
                .filter(r -> r.id().equals(revision.whom()))
                .map(Ring::name)
                .findFirst();
        Optional<String> target =
                ring.isPresent() ? Optional.empty() : Target.of(revision.whom()).map(inquiry.wording()::target);
        return title
                + ring.map(r -> " opens to " + r)
                        .or(() -> target.map(t -> " opens early to " + t))
                        .orElse(" opens");
    }

    private static String description(Revision revision) {
        List<String> lines = new ArrayList<>();
        if (revision.cancelled()) lines.add("Drawn back.");
        else if (revision.held().isPresent() && revision.planned())
            lines.add("Held: " + revision.held().get());
        else if (revision.planned()) lines.add("Planned.");
        if (!revision.note().isEmpty()) lines.add(revision.note());
        return String.join("\n", lines);
    }

    /** Whom a calendar is for, and what concerns them: openings by which one of them gets a feature. */
    private static final class Scope {
        private final String scope;
        private final Inquiry inquiry;
        private final Map<String, RoaringBitmap> arriving = new HashMap<>();

        Scope(String scope, Inquiry inquiry, Instant from) {
            this.scope = scope;
            this.inquiry = inquiry;
            if (scope.equals(EVERYONE) || scope.startsWith("ring:")) return;
            ReleaseSets sets = inquiry.moment().solution().releases();
            for (Arriving a : Arriving.between(
                    inquiry.estate(),
                    inquiry.directory(),
                    sets,
                    from,
                    inquiry.question().at().plus(AHEAD)))
                arriving.put(a.coming().release().setting() + " " + a.coming().whom(), a.accounts());
        }

        boolean holds(Revision revision) {
            if (scope.equals(EVERYONE)) return true;
            if (scope.startsWith("ring:")) return revision.whom().equals(scope.substring(5));
            Optional<Target> target = Target.of(scope);
            if (target.isEmpty()) return false;
            RoaringBitmap mine = inquiry.directory().holding(target.get());
            RoaringBitmap reached = revision.cancelled()
                    ? everReached(revision)
                    : arriving.getOrDefault(revision.setting() + " " + revision.whom(), new RoaringBitmap());
            return RoaringBitmap.intersects(reached, mine);
        }

        /** Whom a cancelled opening would have reached, as far as that can still be said. */
        private RoaringBitmap everReached(Revision revision) {
            List<String> rings = inquiry.estate().rings().stream().map(Ring::id).toList();
            int ring = rings.indexOf(revision.whom());
            if (ring >= 0) return inquiry.moment().solution().releases().standingInOrFurtherIn(ring);
            return Target.of(revision.whom())
                    .filter(t -> !(t instanceof Target.OfUnit unit)
                            || inquiry.estate().unit(unit.id()).isPresent())
                    .filter(t -> !(t instanceof Target.OfGroup group)
                            || inquiry.estate().group(group.id()).isPresent())
                    .filter(t -> !(t instanceof Target.OfAccount account)
                            || inquiry.estate().account(account.id()).isPresent())
                    .map(inquiry.directory()::holding)
                    .orElseGet(RoaringBitmap::new);
        }
    }
}
