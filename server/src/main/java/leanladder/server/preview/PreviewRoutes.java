package leanladder.server.preview;

import com.fasterxml.jackson.databind.JsonNode;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import java.util.stream.Collectors;
import leanladder.catalogue.AccountKind;
import leanladder.catalogue.Need;
import leanladder.catalogue.Setting;
import leanladder.catalogue.Value;
import leanladder.estate.Account;
import leanladder.estate.Feedback;
import leanladder.estate.Release;
import leanladder.estate.Ring;
import leanladder.estate.Statement;
import leanladder.estate.Terms;
import leanladder.estate.Track;
import leanladder.json.CodePointOrder;
import leanladder.preview.ReleaseAudience;
import leanladder.preview.ScheduledOpening;
import leanladder.preview.UpcomingReleases;
import leanladder.resolve.Outcome;
import leanladder.resolve.Segment;
import leanladder.server.http.ProblemException;
import leanladder.server.http.QueryParameters;
import leanladder.server.http.RequestContext;
import leanladder.server.http.Response;
import leanladder.server.http.RouteGroup;
import leanladder.server.http.RouteRegistry;
import leanladder.server.http.description.SchemaRef;
import leanladder.server.paging.NamedRef;
import leanladder.server.query.QueryContext;
import leanladder.server.today.TodoItem;
import leanladder.server.today.TodoSource;
import leanladder.server.usage.UsageReader;
import leanladder.text.EstateFormatter;
import org.roaringbitmap.RoaringBitmap;

/** Preview rings, and what moves through them: who may and who did, what is open to whom, and what comes when. */
public record PreviewRoutes(QueryContext.Reader queries, UsageReader usage) implements RouteGroup, TodoSource {
    private static final Duration SOON = Duration.ofDays(7);

    /**
     * A ring.
     *
     * @param may how many stand in it
     * @param did how many of them have a word that counts for it; everyone where none is asked
     * @param asked how many of those who have not consented were asked, and have not answered
     * @param declined how many of them said no
     * @param devices the kinds of device on which it tries things
     * @param policies that put people into it, the strongest first
     */
    public record RingLine(
            String id,
            String name,
            boolean asksConsent,
            int may,
            int did,
            int rooms,
            int asked,
            int declined,
            List<String> devices,
            Optional<TermsView> terms,
            List<NamedRef> policies) {}

    /** What people found. @param open how many words are not dealt with */
    public record FeedbackCount(int works, int fails, int ideas, int open) {}

    /** An opening to a ring. @param planned whether it is only intended */
    public record Opening(String ring, Instant at, boolean planned) {}

    /** An early opening. @param to as the estate file writes it @param words whom it names */
    public record EarlyOpening(String to, String words, Instant from) {}

    /**
     * A release in short.
     *
     * @param held why it is held, where it is
     * @param has to how many it has come with nothing in the way
     * @param off for how many of these it is turned off all the same: no policy turns it on
     * @param unconsented how many may have it and have not consented
     * @param kept from how many another gate keeps it, though it has come to them
     * @param alone how many of those to whom it has come took it alone, without the rest of their ring
     * @param atLeast how many it takes to be tried at all
     * @param feedbackUntil the last day on which feedback is wanted
     */
    public record ReleaseLine(
            String setting,
            String title,
            Optional<String> app,
            List<Opening> openings,
            List<EarlyOpening> early,
            boolean oneByOne,
            Optional<String> held,
            Optional<String> owner,
            Optional<String> note,
            Map<String, String> notes,
            Map<String, String> versions,
            Optional<String> guide,
            List<String> devices,
            int atLeast,
            Optional<String> feedbackUntil,
            FeedbackCount feedback,
            int has,
            int off,
            int unconsented,
            int kept,
            int alone) {}

    /** What is agreed to with a consent. @param from the earliest version on a consent that still counts */
    public record TermsView(int version, String text, int from) {
        static Optional<TermsView> of(Terms terms) {
            return terms.version() == 0
                    ? Optional.empty()
                    : Optional.of(new TermsView(terms.version(), terms.text(), terms.from()));
        }
    }

    /** A further track. @param written as an edit of all tracks takes it */
    public record TrackLine(
            String id, String name, @SchemaRef("TrackForm") JsonNode written) {}

    /**
     * Rings from the innermost outwards, releases by their next step, and what is worth a word.
     *
     * @param tracks the further tracks there are
     * @param track the one that is shown; empty for the main one
     * @param setting the ring setting of that track
     */
    public record Previews(
            long change,
            Instant at,
            List<TrackLine> tracks,
            String track,
            String setting,
            List<RingLine> rings,
            List<ReleaseLine> releases,
            List<Warnings.Warning> warnings) {}

    /** How a release stands in a ring. */
    public record InRing(String ring, String name, int has, int off, int unconsented, int kept) {}

    /** Settings that are meant to be set together with that of a release. @param settings all of them, its own too */
    public record LinkedSettings(String family, String name, List<NamedRef> settings) {}

    /** A release, how it stands in each ring, what its feature needs besides, in words, and the families that it belongs to. */
    public record ReleaseView(
            ReleaseLine release,
            List<InRing> rings,
            Optional<Integer> tried,
            List<String> needs,
            List<LinkedSettings> families) {}

    /** What is wrong with rings and releases, and what opens within a week. */
    @Override
    public List<TodoItem> of(QueryContext queryContext) {
        if (queryContext.estate().allTracks().stream().allMatch(t -> t.rings().isEmpty())) return List.of();
        List<TodoItem> matters = new ArrayList<>();
        for (Warnings.Warning warning : Warnings.findAll(queryContext)) {
            String about = warning.setting()
                    .map(s -> "release/" + s)
                    .orElseGet(() -> "ring/" + warning.ring().orElse(""));
            matters.add(new TodoItem(
                    TodoItem.Topic.PREVIEW,
                    "preview:" + about + ":" + warning.words().hashCode(),
                    warning.words() + ".",
                    "/previews/" + about,
                    Optional.empty()));
        }
        Instant now = queryContext.question().at();
        for (UpcomingReleases upcomingReleases : UpcomingReleases.between(
                queryContext.estate(),
                queryContext.directory(),
                queryContext.instantResolution().columnResolver()::releases,
                now,
                now.plus(SOON))) {
            ScheduledOpening scheduledOpening = upcomingReleases.coming();
            String setting = scheduledOpening.release().setting();
            String whom = scheduledOpening
                    .ring()
                    .map(Ring::name)
                    .orElseGet(() -> queryContext
                            .estateFormatter()
                            .target(scheduledOpening.target().orElseThrow()));
            int accounts = upcomingReleases.accounts().getCardinality();
            matters.add(new TodoItem(
                    TodoItem.Topic.OPENING,
                    "opening:" + setting + ":" + scheduledOpening.whom() + ":" + scheduledOpening.at(),
                    queryContext.setting(setting).title()
                            + (scheduledOpening.planned() ? " is planned to open to " : " opens to ")
                            + whom
                            + " on " + queryContext.estateFormatter().moment(scheduledOpening.at()) + ", for "
                            + (accounts == 1 ? "one account" : String.format("%,d accounts", accounts)) + ".",
                    "/previews/release/" + setting,
                    Optional.of(scheduledOpening.at())));
        }
        return matters;
    }

    @Override
    public void routes(RouteRegistry routeRegistry) {
        routeRegistry.get("/previews", this::previews, Previews.class);
        routeRegistry.get("/releases/{setting}", this::release, ReleaseView.class);
    }

    private Response previews(RequestContext requestContext) {
        QueryParameters queryParameters = requestContext.query(QueryParameters.about("track"));
        QueryContext queryContext = queries.read(queryParameters);
        List<TrackLine> tracks = queryContext.estate().tracks().stream()
                .map(t -> new TrackLine(t.id(), t.name(), t.json()))
                .toList();
        Track track = track(queryContext, queryParameters.one("track").orElse(""));
        List<Ring> rings = track.rings();
        if (rings.isEmpty())
            return Response.of(new Previews(
                    queryContext.snapshot().change(),
                    queryContext.question().at(),
                    tracks,
                    track.id(),
                    track.setting(),
                    List.of(),
                    List.of(),
                    List.of()));
        ReleaseAudience sets = queryContext.instantResolution().columnResolver().releases(track);
        List<RingLine> lines = new ArrayList<>();
        for (int i = 0; i < rings.size(); i++) {
            RoaringBitmap may = sets.standingIn(i);
            RoaringBitmap did = did(queryContext, track, i);
            ConsentCounts consentCounts = ConsentCounts.of(queryContext, rings.get(i), RoaringBitmap.andNot(may, did));
            lines.add(new RingLine(
                    rings.get(i).id(),
                    rings.get(i).name(),
                    rings.get(i).asksConsent(),
                    may.getCardinality(),
                    did.getCardinality(),
                    RoaringBitmap.andCardinality(may, queryContext.directory().ofKind(AccountKind.ROOM)),
                    consentCounts.waiting,
                    consentCounts.declined,
                    rings.get(i).devices(),
                    TermsView.of(rings.get(i).terms()),
                    policies(queryContext, track, rings.get(i).id())));
        }
        Map<String, List<Feedback>> said =
                queryContext.estate().feedback().stream().collect(Collectors.groupingBy(Feedback::release));
        return Response.of(new Previews(
                queryContext.snapshot().change(),
                queryContext.question().at(),
                tracks,
                track.id(),
                track.setting(),
                lines,
                queryContext.estate().releases().stream()
                        .filter(r -> r.track().equals(track.id()))
                        .sorted(Comparator.comparing(Release::setting, CodePointOrder.TEXTS))
                        .map(r -> line(queryContext, r, said.getOrDefault(r.setting(), List.of())))
                        .toList(),
                Warnings.findAll(queryContext).stream()
                        .filter(w -> isOn(track, w, queryContext))
                        .toList()));
    }

    private static Track track(QueryContext queryContext, String id) {
        return queryContext
                .estate()
                .track(id)
                .orElseThrow(() -> ProblemException.unknown("There is no preview track \"" + id + "\"."));
    }

    /** Whether a warning is about a ring or a release of a track. */
    private static boolean isOn(Track track, Warnings.Warning warning, QueryContext queryContext) {
        Optional<Track> of = warning.ring()
                .flatMap(queryContext.estate()::trackOfRing)
                .or(() -> warning.setting().map(queryContext.estate()::trackWith));
        return of.map(t -> t.id().equals(track.id())).orElse(track.isMain());
    }

    private static List<NamedRef> policies(QueryContext queryContext, Track track, String ring) {
        return queryContext.snapshot().compiledEstate().statementsOn(track.setting()).stream()
                .filter(s -> s.statement() instanceof Statement.Set
                        && s.statement().value() instanceof Value.Choice choice
                        && choice.option().equals(ring))
                .map(s -> new NamedRef(s.policy().id(), s.policy().name()))
                .toList();
    }

    /** Who stands in a ring and has consented, as far as it asks. A fresh set. */
    static RoaringBitmap did(QueryContext queryContext, Track track, int ring) {
        ReleaseAudience sets = queryContext.instantResolution().columnResolver().releases(track);
        RoaringBitmap did = sets.standingIn(ring);
        if (track.rings().get(ring).asksConsent()) did.and(sets.consentedTo(ring));
        return did;
    }

    /** What those who were asked to join a ring, and have not consented, said. */
    private record ConsentCounts(int waiting, int declined) {
        static ConsentCounts of(QueryContext queryContext, Ring ring, RoaringBitmap open) {
            int[] count = new int[2];
            RoaringBitmap.and(open, queryContext.directory().asked())
                    .forEach((int n) -> queryContext.directory().account(n).asked().stream()
                            .filter(a -> a.isToRing(ring.id()))
                            .reduce((earlier, later) -> later)
                            .ifPresent(a -> count[a.declined().isPresent() ? 1 : 0]++));
            return new ConsentCounts(count[0], count[1]);
        }
    }

    /**
     * How a release stands.
     *
     * @param open to whom it would have come if all who are asked had consented @param come to whom it has come
     * @param blocked from whom some gate keeps it, each account in one of these
     * @param has to how many it has come and works @param off from whom nothing keeps it, and it is turned off @param kept to how many it has come and another gate keeps it from them
     * @param unconsented how many have not consented @param alone how many took it without their ring
     */
    private record Standing(
            RoaringBitmap open,
            RoaringBitmap come,
            List<RoaringBitmap> blocked,
            RoaringBitmap off,
            int has,
            int kept,
            int unconsented,
            int alone) {
        /** Computed once for each resolution: nothing of it changes by itself until the next edge. */
        static Standing of(QueryContext queryContext, String setting) {
            Map<String, Standing> known = queryContext.instantResolution().view(Standing.class, ConcurrentHashMap::new);
            return known.computeIfAbsent(setting, s -> find(queryContext, s));
        }

        private static Standing find(QueryContext queryContext, String setting) {
            var columnResolver = queryContext.instantResolution().columnResolver();
            Track track = queryContext.estate().trackWith(setting);
            ReleaseAudience sets = columnResolver.releases(track);
            RoaringBitmap open = sets.openTo(setting);
            RoaringBitmap come = sets.reachedBy(setting);
            List<RoaringBitmap> blocked = columnResolver.column(setting).shares().stream()
                    .filter(segment -> !segment.what().blockedBy().isEmpty())
                    .map(Segment::accounts)
                    .toList();
            Setting itself = queryContext.setting(setting);
            RoaringBitmap off = new RoaringBitmap();
            for (Segment<Outcome> segment : columnResolver.column(setting).shares())
                if (segment.what().blockedBy().isEmpty()
                        && itself.fallback()
                                .filter(segment.what().decided()::equals)
                                .isPresent()) off.or(RoaringBitmap.and(segment.accounts(), come));
            RoaringBitmap alone = RoaringBitmap.and(come, sets.consentedAlone(setting));
            int kept = in(come, blocked);
            return new Standing(
                    open,
                    come,
                    blocked,
                    off,
                    come.getCardinality() - kept,
                    kept,
                    RoaringBitmap.andNotCardinality(open, come),
                    RoaringBitmap.andNotCardinality(
                            alone, sets.consentedTo(track.rings().size() - 1)));
        }

        private static int in(RoaringBitmap accounts, List<RoaringBitmap> parts) {
            return parts.stream()
                    .mapToInt(part -> RoaringBitmap.andCardinality(accounts, part))
                    .sum();
        }

        /** The same among some accounts. */
        InRing among(RoaringBitmap accounts, Ring ring) {
            RoaringBitmap here = RoaringBitmap.and(come, accounts);
            int keptHere = in(here, blocked);
            return new InRing(
                    ring.id(),
                    ring.name(),
                    here.getCardinality() - keptHere,
                    RoaringBitmap.andCardinality(here, off),
                    RoaringBitmap.andCardinality(open, accounts) - here.getCardinality(),
                    keptHere);
        }
    }

    private static ReleaseLine line(QueryContext queryContext, Release release, List<Feedback> said) {
        Setting setting = queryContext.setting(release.setting());
        EstateFormatter estateFormatter = queryContext.estateFormatter();
        List<Opening> openings = new ArrayList<>();
        release.opens().forEach((ring, at) -> openings.add(new Opening(ring, at, false)));
        release.planned(queryContext.estate().organisation().zone())
                .forEach((ring, at) -> openings.add(new Opening(ring, at, true)));
        openings.sort(Comparator.comparing(Opening::at));
        JsonNode source = release.source();
        Standing standing = Standing.of(queryContext, release.setting());
        return new ReleaseLine(
                release.setting(),
                setting.title(),
                queryContext.app(setting),
                openings,
                release.early().stream()
                        .map(e -> new EarlyOpening(e.to().text(), estateFormatter.target(e.to()), e.from()))
                        .toList(),
                release.oneByOne(),
                release.held(),
                text(source, "owner")
                        .map(o -> queryContext
                                .estate()
                                .account(o)
                                .map(Account::displayName)
                                .orElse(o)),
                text(source, "note"),
                texts(source, "notes"),
                texts(source, "versions"),
                release.guide(),
                release.devices(),
                release.atLeast(),
                text(source, "feedbackUntil"),
                count(said),
                standing.has,
                standing.off.getCardinality(),
                standing.unconsented,
                standing.kept,
                standing.alone);
    }

    private static FeedbackCount count(List<Feedback> said) {
        int[] count = new int[Feedback.Verdict.values().length];
        said.forEach(f -> count[f.verdict().ordinal()]++);
        return new FeedbackCount(
                count[Feedback.Verdict.WORKS.ordinal()],
                count[Feedback.Verdict.FAILS.ordinal()],
                count[Feedback.Verdict.IDEA.ordinal()],
                (int) said.stream().filter(f -> f.dealt().isEmpty()).count());
    }

    private static Optional<String> text(JsonNode source, String member) {
        return Optional.of(source.path(member).asText("")).filter(t -> !t.isEmpty());
    }

    /** A text for each kind of device, the kinds in the order in which they were written. */
    private static Map<String, String> texts(JsonNode source, String member) {
        Map<String, String> texts = new LinkedHashMap<>();
        source.path(member)
                .properties()
                .forEach(t -> texts.put(t.getKey(), t.getValue().asText()));
        return texts;
    }

    /** How many of those to whom it has come used it in the last 30 days; empty where no client reports that. */
    private Optional<Integer> tried(QueryContext queryContext, Standing standing, String setting) {
        RoaringBitmap users = usage.users(
                setting, UsageReader.firstRecentDay(queryContext.question().at()), queryContext.directory());
        return users.isEmpty() ? Optional.empty() : Optional.of(RoaringBitmap.andCardinality(users, standing.come));
    }

    private Response release(RequestContext requestContext) {
        QueryContext queryContext = queries.read(requestContext.query(QueryParameters.about()));
        String key = requestContext.path("setting");
        Release release = queryContext
                .estate()
                .release(key)
                .orElseThrow(() -> ProblemException.unknown("There is no release of \"" + key + "\"."));
        Standing standing = Standing.of(queryContext, key);
        Track track = queryContext.estate().trackOf(release);
        ReleaseAudience sets = queryContext.instantResolution().columnResolver().releases(track);
        List<Ring> rings = track.rings();
        List<InRing> inRings = new ArrayList<>();
        for (int i = 0; i < rings.size(); i++) inRings.add(standing.among(sets.standingIn(i), rings.get(i)));
        return Response.of(new ReleaseView(
                line(
                        queryContext,
                        release,
                        queryContext.estate().feedback().stream()
                                .filter(f -> f.release().equals(key))
                                .toList()),
                inRings,
                tried(queryContext, standing, key),
                queryContext.setting(key).needs().stream()
                        .filter(n -> !(n instanceof Need.ReleaseNeed))
                        .map(queryContext.estateFormatter()::need)
                        .toList(),
                families(queryContext, key)));
    }

    private static List<LinkedSettings> families(QueryContext queryContext, String setting) {
        return queryContext.estate().catalogue().families().stream()
                .filter(f -> f.settings().contains(setting))
                .map(f -> new LinkedSettings(
                        f.id(),
                        f.name(),
                        f.settings().stream()
                                .map(s ->
                                        new NamedRef(s, queryContext.setting(s).title()))
                                .toList()))
                .toList();
    }
}
