package leanladder.server.preview;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.time.Instant;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.function.Predicate;
import leanladder.catalogue.AccountKind;
import leanladder.estate.Account;
import leanladder.estate.Consent;
import leanladder.estate.Invitation;
import leanladder.estate.Ring;
import leanladder.estate.Track;
import leanladder.preview.ReleaseAudience;
import leanladder.resolve.Climb;
import leanladder.resolve.Verdict;
import leanladder.server.http.CsvResponse;
import leanladder.server.http.ProblemException;
import leanladder.server.http.QueryParameters;
import leanladder.server.http.RequestContext;
import leanladder.server.http.Response;
import leanladder.server.http.RouteGroup;
import leanladder.server.http.RouteRegistry;
import leanladder.server.paging.AccountPage;
import leanladder.server.query.QueryContext;
import leanladder.text.EstateFormatter;
import org.roaringbitmap.RoaringBitmap;

/** Who stands in a ring: who may, and who did; how each got in, and what those who were asked said. */
public record RingMemberRoutes(QueryContext.Reader queries) implements RouteGroup {
    /**
     * Somebody in a ring.
     *
     * @param policy by which the account stands there, where a policy says so
     * @param target by which it gets into that policy, as the estate file writes it @param way the same in words
     * @param terms the version of the terms that was read; 0 for none
     * @param outdated whether a consent was given that no longer counts, since the terms are others now
     * @param asked when it was asked to join the ring, where it was @param declined when it said no to that
     * @param beaten a policy that would have it in another ring, and why it does not win
     */
    public record RingMember(
            String account,
            String displayName,
            String userName,
            String unit,
            AccountKind kind,

            @JsonInclude(JsonInclude.Include.NON_ABSENT) Optional<Instant> consented,

            int terms,
            boolean outdated,

            @JsonInclude(JsonInclude.Include.NON_ABSENT) Optional<Instant> asked,

            @JsonInclude(JsonInclude.Include.NON_ABSENT) Optional<Instant> declined,

            Optional<String> policyId,
            Optional<String> policy,
            Optional<String> target,
            String way,
            Optional<String> beaten) {}

    /** A page of a ring's list. @param rooms how many of all are rooms @param next to be sent as after; null on the last page */
    public record Roster(int accounts, int rooms, List<RingMember> members, Optional<String> next) {}

    @Override
    public void routes(RouteRegistry routeRegistry) {
        routeRegistry.get("/rings/{id}/accounts", this::roster, Roster.class);
    }

    private Response roster(RequestContext requestContext) {
        QueryParameters queryParameters =
                requestContext.query(QueryParameters.about("which", "kind", "limit", "after", "format"));
        QueryContext queryContext = queries.read(queryParameters);
        String id = requestContext.path("id");
        Track track = queryContext
                .estate()
                .trackOfRing(id)
                .orElseThrow(() -> ProblemException.unknown("There is no ring \"" + id + "\"."));
        List<Ring> rings = track.rings();
        int ring = rings.stream().map(Ring::id).toList().indexOf(id);
        ReleaseAudience sets = queryContext.instantResolution().columnResolver().releases(track);
        RoaringBitmap did = PreviewRoutes.did(queryContext, track, ring);
        boolean whoDid = queryParameters
                .word("which", List.of("may", "did"))
                .orElse("may")
                .equals("did");
        RoaringBitmap whom = whoDid ? did : RoaringBitmap.andNot(sets.standingIn(ring), did);
        RoaringBitmap rooms = queryContext.directory().ofKind(AccountKind.ROOM);
        int ofRooms = RoaringBitmap.andCardinality(whom, rooms);
        queryParameters.word("kind", List.of("people", "rooms")).ifPresent(kind -> {
            if (kind.equals("rooms")) whom.and(rooms);
            else whom.andNot(rooms);
        });
        List<Account> accounts = queryContext.directory().byName(whom);
        if (queryParameters.isCsv())
            return Response.of(new CsvResponse(
                    id + (whoDid ? "-did.csv" : "-may.csv"),
                    List.of("name", "address", "unit", "kind", "consented", "asked", "declined", "policy", "way"),
                    AccountPage.lines(accounts, a -> {
                        RingMember m = member(queryContext, track, rings.subList(0, ring + 1), a);
                        return CsvResponse.line(
                                m.displayName,
                                a.userName(),
                                m.unit,
                                a.kind().word(),
                                m.consented.map(Instant::toString).orElse(""),
                                m.asked.map(Instant::toString).orElse(""),
                                m.declined.map(Instant::toString).orElse(""),
                                m.policy.orElse(""),
                                m.way);
                    })));
        AccountPage page = AccountPage.parse(queryParameters);
        return Response.of(new Roster(
                accounts.size(),
                ofRooms,
                page.parse(accounts).stream()
                        .map(a -> member(queryContext, track, rings.subList(0, ring + 1), a))
                        .toList(),
                page.next(accounts)));
    }

    /** How an account got into its ring. @param rings up to that one, from the innermost */
    private static RingMember member(QueryContext queryContext, Track track, List<Ring> rings, Account account) {
        Instant at = queryContext.question().at();
        List<Consent> given = account.consents().stream()
                .filter(c -> c.holds(at) && rings.stream().anyMatch(r -> r.asksConsent() && c.isToRing(r.id())))
                .toList();
        Predicate<Consent> counts = c -> rings.stream().anyMatch(r -> c.isToRing(r.id()) && c.accepts(r.terms()));
        Optional<Instant> consented =
                given.stream().filter(counts).map(Consent::at).min(Comparator.naturalOrder());
        int terms = given.stream().mapToInt(Consent::terms).max().orElse(0);
        boolean isOutdated = !given.isEmpty() && consented.isEmpty();
        EstateFormatter estateFormatter = queryContext.estateFormatter();
        Optional<Climb> climb = queryContext
                .estate()
                .catalogue()
                .setting(track.setting())
                .map(s -> queryContext.instantResolution().climber(account).climb(s));
        Optional<Climb.Entry> decides = climb.flatMap(c ->
                c.entries().stream().filter(w -> w.verdict() == Verdict.DECIDES).findFirst());
        Optional<Climb.Entry> beaten = climb.flatMap(c -> c.entries().stream()
                .filter(w -> w.verdict() == Verdict.LOWER || w.verdict() == Verdict.TIE || w.verdict() == Verdict.CUT)
                .filter(w -> decides.isEmpty()
                        || !w.rankedStatement()
                                .statement()
                                .value()
                                .equals(decides.get()
                                        .rankedStatement()
                                        .statement()
                                        .value()))
                .findFirst());
        String ring = rings.get(rings.size() - 1).id();
        Optional<Invitation> asked =
                account.asked().stream().filter(a -> a.isToRing(ring)).reduce((earlier, later) -> later);
        return new RingMember(
                account.id(),
                account.displayName(),
                account.userName(),
                AccountPage.place(queryContext.directory(), account.unit()),
                account.kind(),
                consented,
                terms,
                isOutdated,
                asked.map(Invitation::at),
                asked.flatMap(Invitation::declined),
                decides.map(w -> w.rankedStatement().policy().id()),
                decides.map(w -> w.rankedStatement().policy().name()),
                decides.flatMap(w -> w.matchPath().via().stream().findFirst()),
                decides.map(w -> w.matchPath().via().stream()
                                .map(estateFormatter::target)
                                .collect(java.util.stream.Collectors.joining(" › ")))
                        .orElse("the catalogue"),
                beaten.map(w -> w.rankedStatement().policy().name() + " says "
                        + estateFormatter.value(
                                climb.orElseThrow().setting(),
                                w.rankedStatement().statement().value())
                        + (w.verdict() == Verdict.TIE
                                ? " and stands later in the ranking"
                                : w.verdict() == Verdict.CUT ? " and is cut off by a lock" : " on a lower rung")));
    }
}
