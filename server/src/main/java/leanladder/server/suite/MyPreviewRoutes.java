package leanladder.server.suite;

import com.fasterxml.jackson.annotation.JsonValue;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.Predicate;
import java.util.stream.Stream;
import leanladder.catalogue.Setting;
import leanladder.estate.Account;
import leanladder.estate.Consent;
import leanladder.estate.Invitation;
import leanladder.estate.Release;
import leanladder.estate.Ring;
import leanladder.estate.Terms;
import leanladder.estate.Track;
import leanladder.json.CodePointOrder;
import leanladder.preview.Arrival;
import leanladder.resolve.AccountResolver;
import leanladder.server.access.ClientSecret;
import leanladder.server.http.ProblemException;
import leanladder.server.http.QueryParameters;
import leanladder.server.http.RequestContext;
import leanladder.server.http.Response;
import leanladder.server.http.RouteGroup;
import leanladder.server.http.RouteRegistry;
import leanladder.server.query.QueryContext;

/** What is coming to one person, as a client of the suite shows it to that person (resolution.md, section 7). */
public record MyPreviewRoutes(QueryContext.Reader queries, ClientSecret secret) implements RouteGroup {
    /**
     * A ring in which a person stands.
     *
     * @param track the name of its track; empty for the main one
     * @param consented since when the person's word counts for it @param asked when the person was asked to join
     * @param declined when the person said no
     */
    public record MyRing(
            String id,
            String name,
            Optional<String> track,
            boolean asksConsent,
            Optional<MyTerms> terms,
            Optional<Instant> consented,
            Optional<Instant> asked,
            Optional<Instant> declined) {}

    /** How a release stands for a person. */
    public enum MyReleaseState {
        HAS_COME("come"),
        NEEDS_CONSENT("asks"),
        IS_COMING("coming");

        private final String word;

        MyReleaseState(String word) {
            this.word = word;
        }

        /** How it is written. */
        @JsonValue
        public String word() {
            return word;
        }
    }

    /**
     * A release that has come to a person, is offered, or will come.
     *
     * @param at since when it is open to the person, or from when on it will be
     * @param planned whether that is only intended
     * @param preview whether the person has it earlier than everyone
     * @param oneByOne whether it can be taken alone @param alone since when the person has taken it so
     * @param feedbackUntil the last day on which feedback is wanted
     */
    public record MyRelease(
            String setting,
            String title,
            Optional<String> app,
            MyReleaseState state,
            Optional<Instant> at,
            boolean planned,
            boolean preview,
            boolean oneByOne,
            Optional<MyTerms> terms,
            Optional<Instant> alone,
            Optional<String> note,
            Optional<String> guide,
            List<String> devices,
            Optional<String> feedbackUntil) {}

    /** What is coming to a person: the ring, and the releases, those that wait for the person's word first. */
    public record MyPreviews(String account, List<MyRing> rings, List<MyRelease> releases) {}

    /** What one agrees to by joining. @param version the one to be named with the consent */
    public record MyTerms(int version, String text) {
        static Optional<MyTerms> of(Terms terms) {
            return terms.version() == 0 ? Optional.empty() : Optional.of(new MyTerms(terms.version(), terms.text()));
        }
    }

    @Override
    public void routes(RouteRegistry routeRegistry) {
        routeRegistry.get("/suite/accounts/{id}/previews", this::previews, MyPreviews.class);
    }

    private Response previews(RequestContext requestContext) {
        secret.check(requestContext);
        requestContext.query(Set.of());
        QueryContext queryContext = queries.read(QueryParameters.none());
        String id = requestContext.path("id");
        Account account = queryContext
                .estate()
                .account(id)
                .orElseThrow(() -> ProblemException.unknown("There is no account \"" + id + "\"."));
        List<Track> tracks = queryContext.estate().allTracks().stream()
                .filter(track -> !track.rings().isEmpty())
                .toList();
        if (!account.active() || tracks.isEmpty()) return Response.of(new MyPreviews(id, List.of(), List.of()));
        AccountResolver accountResolver = queryContext.instantResolution().climber(account);
        List<MyRelease> releases = new ArrayList<>();
        for (Release release : queryContext.estate().releases())
            queryContext
                    .estate()
                    .catalogue()
                    .setting(release.setting())
                    .flatMap(setting -> own(queryContext, accountResolver, setting, release))
                    .ifPresent(releases::add);
        releases.sort(Comparator.comparing((MyRelease r) -> r.state == MyReleaseState.NEEDS_CONSENT ? 0 : 1)
                .thenComparing(r -> r.at.orElse(Instant.MAX))
                .thenComparing(MyRelease::setting, CodePointOrder.TEXTS));
        return Response.of(new MyPreviews(
                id,
                tracks.stream()
                        .map(track -> own(
                                account,
                                track,
                                track.rings().get(accountResolver.ring(track)),
                                queryContext.question().at()))
                        .toList(),
                releases));
    }

    private static MyRing own(Account account, Track track, Ring ring, Instant at) {
        Optional<Invitation> asked =
                account.asked().stream().filter(a -> a.isToRing(ring.id())).reduce((earlier, later) -> later);
        return new MyRing(
                ring.id(),
                ring.name(),
                track.isMain() ? Optional.empty() : Optional.of(track.name()),
                ring.asksConsent(),
                MyTerms.of(ring.terms()),
                given(account, at, c -> c.isToRing(ring.id()) && c.accepts(ring.terms())),
                asked.map(Invitation::at),
                asked.flatMap(Invitation::declined));
    }

    private static Optional<Instant> given(Account account, Instant at, Predicate<Consent> to) {
        return account.consents().stream()
                .filter(c -> c.holds(at) && to.test(c))
                .map(Consent::at)
                .min(Comparator.naturalOrder());
    }

    /** A release as it stands for the person; empty where nothing says that it will ever come. */
    private static Optional<MyRelease> own(
            QueryContext queryContext, AccountResolver accountResolver, Setting setting, Release release) {
        Track track = queryContext.estate().trackOf(release);
        List<Ring> rings = track.rings();
        if (rings.isEmpty()) return Optional.empty();
        int mine = accountResolver.ring(track);
        Instant now = queryContext.question().at();
        Arrival arrival = Arrival.compute(rings, mine, Optional.of(release), accountResolver.accountReach(), now);
        Optional<Instant> since = Optional.empty();
        boolean planned = false;
        MyReleaseState state = MyReleaseState.HAS_COME;
        if (arrival instanceof Arrival.RingArrival come) since = Optional.of(come.since());
        else if (arrival instanceof Arrival.EarlyArrival come) since = Optional.of(come.since());
        else if (arrival instanceof Arrival.MissingConsent) state = MyReleaseState.NEEDS_CONSENT;
        else if (arrival instanceof Arrival.MissingOpening not) {
            state = MyReleaseState.IS_COMING;
            since = not.next().map(Arrival.Opening::at);
            if (since.isEmpty()) {
                since = next(queryContext, rings.subList(mine, rings.size()), release);
                planned = true;
            }
            if (since.isEmpty()) return Optional.empty();
        }
        Instant toEveryone = release.opens().get(rings.get(rings.size() - 1).id());
        return Optional.of(new MyRelease(
                setting.key(),
                setting.title(),
                queryContext.app(setting),
                state,
                since,
                planned,
                state == MyReleaseState.HAS_COME && (toEveryone == null || toEveryone.isAfter(now)),
                release.oneByOne(),
                release.oneByOne() ? MyTerms.of(release.terms()) : Optional.empty(),
                given(
                        accountResolver.accountReach().account(),
                        now,
                        c -> c.isToRelease(release.setting()) && c.accepts(release.terms())),
                text(release, "note"),
                release.guide(),
                release.devices(),
                text(release, "feedbackUntil")));
    }

    private static Optional<Instant> next(QueryContext queryContext, List<Ring> rings, Release release) {
        var planned = release.planned(queryContext.estate().organisation().zone());
        return rings.stream()
                .flatMap(r -> Stream.ofNullable(planned.get(r.id())))
                .min(Comparator.naturalOrder());
    }

    private static Optional<String> text(Release release, String member) {
        return Optional.of(release.source().path(member).asText("")).filter(t -> !t.isEmpty());
    }
}
