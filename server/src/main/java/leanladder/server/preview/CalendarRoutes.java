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
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import leanladder.catalogue.Setting;
import leanladder.estate.Ring;
import leanladder.estate.Target;
import leanladder.estate.Track;
import leanladder.json.JsonCursor;
import leanladder.preview.OpeningRevision;
import leanladder.preview.UpcomingReleases;
import leanladder.server.http.JsonRequestBody;
import leanladder.server.http.ProblemException;
import leanladder.server.http.QueryParameters;
import leanladder.server.http.RequestContext;
import leanladder.server.http.Response;
import leanladder.server.http.RouteGroup;
import leanladder.server.http.RouteRegistry;
import leanladder.server.http.TextResponse;
import leanladder.server.query.QueryContext;
import leanladder.store.Store;
import leanladder.store.calendars.CalendarTable;
import leanladder.store.entities.EntityTable;
import leanladder.store.entities.StoredEntity;
import org.roaringbitmap.RoaringBitmap;

/**
 * Arrivals as calendars that programs subscribe to (RFC 5545): everyone's, and those of one ring, unit or person. Each is found by a
 * secret address; renewing it shuts the old one.
 */
public record CalendarRoutes(Store store, QueryContext.Reader queries) implements RouteGroup {
    private static final Duration KEPT = Duration.ofDays(56);
    private static final Duration AHEAD = Duration.ofDays(3650);
    private static final String EVERYONE = "everyone";
    private static final int SECRET_BYTES = 24;
    private static final SecureRandom RANDOM = new SecureRandom();

    /** A calendar. @param of whose it is @param words the same in words @param path where it is found; null where none was made yet */
    public record CalendarAddress(String of, String words, Optional<String> path, Optional<Instant> made) {}

    @Override
    public void routes(RouteRegistry routeRegistry) {
        routeRegistry.get("/calendars", this::address, CalendarAddress.class);
        routeRegistry.post("/calendars", this::renew, id -> Response.created(made(id)), CalendarAddress.class);
        routeRegistry.get("/calendars/{secret}", this::calendar);
    }

    private Response address(RequestContext requestContext) {
        QueryParameters queryParameters = requestContext.query(Set.of("of"));
        String scope = queryParameters.one("of").orElse(EVERYONE);
        QueryContext queryContext = queries.read(QueryParameters.none());
        String words = words(scope, queryContext);
        Optional<CalendarTable.Calendar> there = store.calendars().of(scope);
        return Response.of(new CalendarAddress(
                scope, words, there.map(CalendarRoutes::path), there.map(CalendarTable.Calendar::made)));
    }

    private Response renew(RequestContext requestContext) throws IOException {
        JsonRequestBody jsonRequestBody = requestContext.jsonRequestBody();
        Optional<String> scope = jsonRequestBody.root().required("of").flatMap(JsonCursor::text);
        jsonRequestBody.refuseDefects();
        words(scope.orElseThrow(), queries.read(QueryParameters.none()));
        byte[] secret = new byte[SECRET_BYTES];
        RANDOM.nextBytes(secret);
        long id = store.calendars()
                .renew(
                        requestContext.writeRequest(),
                        scope.get(),
                        Base64.getUrlEncoder().withoutPadding().encodeToString(secret));
        return Response.created(made(id));
    }

    private CalendarAddress made(long id) {
        CalendarTable.Calendar calendar = store.calendars().find(id).orElseThrow();
        return new CalendarAddress(
                calendar.scope(),
                words(calendar.scope(), queries.read(QueryParameters.none())),
                Optional.of(path(calendar)),
                Optional.of(calendar.made()));
    }

    private static String path(CalendarTable.Calendar calendar) {
        return RouteRegistry.ROOT + "/calendars/" + calendar.secret() + ".ics";
    }

    /** Whose a calendar is, in words; a problem where that is nobody. */
    private static String words(String scope, QueryContext queryContext) {
        if (scope.equals(EVERYONE)) return queryContext.estate().organisation().name();
        if (scope.startsWith("ring:"))
            return queryContext
                    .estate()
                    .ring(scope.substring(5))
                    .map(Ring::name)
                    .orElseThrow(() -> ProblemException.unknown("There is no ring \"" + scope.substring(5) + "\"."));
        Optional<Target> target = Target.parse(scope);
        boolean known = target.filter(t -> t instanceof Target.UnitTarget unit
                        ? queryContext.estate().unit(unit.id()).isPresent()
                        : t instanceof Target.AccountTarget account
                                && queryContext.estate().account(account.id()).isPresent())
                .isPresent();
        if (!known)
            throw ProblemException.unknown("There is nobody \"" + scope
                    + "\"; a calendar is everyone's, or that of a ring:ID, a unit:ID or an account:ID.");
        return queryContext.estateFormatter().target(target.get());
    }

    private Response calendar(RequestContext requestContext) {
        CalendarTable.Calendar calendar = store.calendars()
                .by(requestContext.path("secret").replaceFirst("\\.ics$", ""))
                .orElseThrow(() -> ProblemException.unknown(
                        "There is no calendar at this address (any more); ask an administrator for the present one."));
        QueryContext queryContext = queries.read(QueryParameters.none());
        return Response.of(new TextResponse("text/calendar; charset=utf-8", text(calendar.scope(), queryContext)))
                .with("Cache-Control", "private, max-age=300");
    }

    private String text(String scope, QueryContext queryContext) {
        ZoneId zone = queryContext.estate().organisation().zone();
        Instant oldest = queryContext.question().at().minus(KEPT);
        List<OpeningRevision> revisions = new ArrayList<>();
        store.parts()
                .spans("releases")
                .forEach((setting, spans) -> OpeningRevision.compute(setting, written(spans), zone).stream()
                        .filter(r -> !r.at().isBefore(oldest))
                        .forEach(revisions::add));
        revisions.sort(Comparator.comparing(OpeningRevision::at)
                .thenComparing(OpeningRevision::setting)
                .thenComparing(OpeningRevision::whom));
        List<Long> arranged = store.parts().spans(StoredEntity.RINGS).getOrDefault("", List.of()).stream()
                .map(EntityTable.Span::since)
                .toList();
        Set<Long> changes = new HashSet<>(arranged);
        revisions.forEach(r -> changes.add(r.change()));
        changes.add(1L);
        Map<Long, Instant> instants = store.journal().instants(changes);
        String installation = UUID.nameUUIDFromBytes(
                        Objects.requireNonNull(instants.get(1L)).toString().getBytes(StandardCharsets.UTF_8))
                .toString();
        ICalendar calendar = new ICalendar("What comes: " + words(scope, queryContext));
        Scope of = new Scope(scope, queryContext, oldest);
        for (OpeningRevision openingRevision : revisions) {
            if (!of.holds(openingRevision)) continue;
            // What a ring is called is told as well, so that arranging the rings alters every opening told before.
            List<Long> later =
                    arranged.stream().filter(c -> c > openingRevision.first()).toList();
            long altered = later.stream().reduce(openingRevision.change(), Math::max);
            calendar.add(new ICalendar.Event(
                    openingRevision.setting() + "." + openingRevision.whom().replaceAll("[^A-Za-z0-9._-]", "-") + "@"
                            + installation,
                    openingRevision.sequence() + later.size(),
                    Objects.requireNonNull(instants.get(altered)),
                    openingRevision.at().atZone(zone).toLocalDate(),
                    summary(openingRevision, queryContext),
                    description(openingRevision),
                    openingRevision.guide(),
                    openingRevision.cancelled()
                            ? ICalendar.Status.CANCELLED
                            : openingRevision.planned() ? ICalendar.Status.TENTATIVE : ICalendar.Status.CONFIRMED));
        }
        return calendar.end();
    }

    /** How a release read change by change, with the times in which there was none. */
    private static List<OpeningRevision.StoredRelease> written(List<EntityTable.Span> spans) {
        List<OpeningRevision.StoredRelease> written = new ArrayList<>();
        for (int i = 0; i < spans.size(); i++) {
            EntityTable.Span span = spans.get(i);
            written.add(new OpeningRevision.StoredRelease(span.since(), Optional.of(span.body())));
            Optional<Long> gone = span.until();
            boolean next = i + 1 < spans.size();
            if (gone.isPresent() && !(next && spans.get(i + 1).since() == gone.get()))
                written.add(new OpeningRevision.StoredRelease(gone.get(), Optional.empty()));
        }
        return written;
    }

    private static String summary(OpeningRevision openingRevision, QueryContext queryContext) {
        String title = queryContext
                .estate()
                .catalogue()
                .setting(openingRevision.setting())
                .map(Setting::title)
                .orElse(openingRevision.setting());
        Optional<String> ring =
                queryContext.estate().ring(openingRevision.whom()).map(Ring::name);
        Optional<String> target = ring.isPresent()
                ? Optional.empty()
                : Target.parse(openingRevision.whom()).map(queryContext.estateFormatter()::target);
        return title
                + ring.map(r -> " opens to " + r)
                        .or(() -> target.map(t -> " opens early to " + t))
                        .orElse(" opens");
    }

    private static String description(OpeningRevision openingRevision) {
        List<String> lines = new ArrayList<>();
        if (openingRevision.cancelled()) lines.add("Drawn back.");
        else if (openingRevision.held().isPresent() && openingRevision.planned())
            lines.add("Held: " + openingRevision.held().get());
        else if (openingRevision.planned()) lines.add("Planned.");
        if (!openingRevision.note().isEmpty()) lines.add(openingRevision.note());
        return String.join("\n", lines);
    }

    /** Whom a calendar is for, and what concerns them: openings by which one of them gets a feature. */
    private static final class Scope {
        private final String scope;
        private final QueryContext queryContext;
        private final Map<String, RoaringBitmap> arriving = new HashMap<>();

        Scope(String scope, QueryContext queryContext, Instant from) {
            this.scope = scope;
            this.queryContext = queryContext;
            if (scope.equals(EVERYONE) || scope.startsWith("ring:")) return;
            for (UpcomingReleases a : UpcomingReleases.between(
                    queryContext.estate(),
                    queryContext.directory(),
                    queryContext.instantResolution().columnResolver()::releases,
                    from,
                    queryContext.question().at().plus(AHEAD)))
                arriving.put(a.coming().release().setting() + " " + a.coming().whom(), a.accounts());
        }

        boolean holds(OpeningRevision openingRevision) {
            if (scope.equals(EVERYONE)) return true;
            if (scope.startsWith("ring:")) return openingRevision.whom().equals(scope.substring(5));
            Optional<Target> target = Target.parse(scope);
            if (target.isEmpty()) return false;
            RoaringBitmap mine = queryContext.directory().holding(target.get());
            RoaringBitmap reached = openingRevision.cancelled()
                    ? everReached(openingRevision)
                    : arriving.getOrDefault(
                            openingRevision.setting() + " " + openingRevision.whom(), new RoaringBitmap());
            return RoaringBitmap.intersects(reached, mine);
        }

        /** Whom a cancelled opening would have reached, as far as that can still be said. */
        private RoaringBitmap everReached(OpeningRevision openingRevision) {
            Optional<Track> track = queryContext.estate().trackOfRing(openingRevision.whom());
            if (track.isPresent())
                return queryContext
                        .instantResolution()
                        .columnResolver()
                        .releases(track.get())
                        .standingInOrFurtherIn(track.get().rings().stream()
                                .map(Ring::id)
                                .toList()
                                .indexOf(openingRevision.whom()));
            return Target.parse(openingRevision.whom())
                    .filter(t -> !(t instanceof Target.UnitTarget unit)
                            || queryContext.estate().unit(unit.id()).isPresent())
                    .filter(t -> !(t instanceof Target.GroupTarget group)
                            || queryContext.estate().group(group.id()).isPresent())
                    .filter(t -> !(t instanceof Target.AccountTarget account)
                            || queryContext.estate().account(account.id()).isPresent())
                    .map(queryContext.directory()::holding)
                    .orElseGet(RoaringBitmap::new);
        }
    }
}
