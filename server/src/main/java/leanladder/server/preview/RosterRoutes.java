package leanladder.server.preview;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.time.Instant;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import leanladder.catalogue.Kind;
import leanladder.catalogue.Setting;
import leanladder.estate.Account;
import leanladder.estate.Asked;
import leanladder.estate.Consent;
import leanladder.estate.Ring;
import leanladder.preview.ReleaseSets;
import leanladder.resolve.Climb;
import leanladder.resolve.Verdict;
import leanladder.server.draft.Inquiry;
import leanladder.server.http.Answer;
import leanladder.server.http.Api;
import leanladder.server.http.Call;
import leanladder.server.http.Csv;
import leanladder.server.http.Problem;
import leanladder.server.http.Query;
import leanladder.server.http.Room;
import leanladder.server.list.AccountPage;
import leanladder.tell.Wording;
import org.roaringbitmap.RoaringBitmap;

/** Who stands in a ring: who may, and who did; how each got in, and what those who were asked said. */
public record RosterRoutes(Inquiry.Reader inquiries) implements Room {
    /**
     * Somebody in a ring.
     *
     * @param policy by which the account stands there, where a policy says so
     * @param target by which it gets into that policy, as the estate file writes it @param way the same in words
     * @param asked when it was asked to join the ring, where it was @param declined when it said no to that
     * @param beaten a policy that would have it in another ring, and why it does not win
     */
    public record RingMember(
            String account,
            String displayName,
            String userName,
            String unit,
            Kind kind,

            @JsonInclude(JsonInclude.Include.NON_ABSENT) Optional<Instant> consented,

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
    public void routes(Api api) {
        api.get("/rings/{id}/accounts", this::roster, Roster.class);
    }

    private Answer roster(Call call) {
        Query query = call.query(Query.about("which", "kind", "limit", "after", "format"));
        Inquiry inquiry = inquiries.of(query);
        List<Ring> rings = inquiry.estate().rings();
        String id = call.path("id");
        int ring = rings.stream().map(Ring::id).toList().indexOf(id);
        if (ring < 0) throw Problem.unknown("There is no ring \"" + id + "\".");
        ReleaseSets sets = inquiry.moment().solution().releases();
        RoaringBitmap did = PreviewRoutes.did(inquiry, ring);
        boolean whoDid =
                query.word("which", List.of("may", "did")).orElse("may").equals("did");
        RoaringBitmap whom = whoDid ? did : RoaringBitmap.andNot(sets.standingIn(ring), did);
        RoaringBitmap rooms = inquiry.directory().ofKind(Kind.ROOM);
        int ofRooms = RoaringBitmap.andCardinality(whom, rooms);
        query.word("kind", List.of("people", "rooms")).ifPresent(kind -> {
            if (kind.equals("rooms")) whom.and(rooms);
            else whom.andNot(rooms);
        });
        List<Account> accounts = inquiry.directory().byName(whom);
        if (query.isCsv())
            return Answer.of(new Csv(
                    id + (whoDid ? "-did.csv" : "-may.csv"),
                    List.of("name", "address", "unit", "kind", "consented", "asked", "declined", "policy", "way"),
                    AccountPage.lines(accounts, a -> {
                        RingMember m = member(inquiry, rings.subList(0, ring + 1), a);
                        return Csv.line(
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
        AccountPage page = AccountPage.of(query);
        return Answer.of(new Roster(
                accounts.size(),
                ofRooms,
                page.of(accounts).stream()
                        .map(a -> member(inquiry, rings.subList(0, ring + 1), a))
                        .toList(),
                page.next(accounts)));
    }

    /** How an account got into its ring. @param rings up to that one, from the innermost */
    private static RingMember member(Inquiry inquiry, List<Ring> rings, Account account) {
        Instant at = inquiry.question().at();
        Optional<Instant> consented = account.consents().stream()
                .filter(c -> c.holds(at) && rings.stream().anyMatch(r -> r.asksConsent() && c.isToRing(r.id())))
                .map(Consent::at)
                .min(Comparator.naturalOrder());
        Wording wording = inquiry.wording();
        Optional<Climb> climb = inquiry.estate()
                .catalogue()
                .setting(Setting.RING)
                .map(s -> inquiry.moment().climber(account).climb(s));
        Optional<Climb.Weighed> decides = climb.flatMap(c ->
                c.weighed().stream().filter(w -> w.verdict() == Verdict.DECIDES).findFirst());
        Optional<Climb.Weighed> beaten = climb.flatMap(c -> c.weighed().stream()
                .filter(w -> w.verdict() == Verdict.LOWER || w.verdict() == Verdict.TIE || w.verdict() == Verdict.CUT)
                .filter(w -> decides.isEmpty()
                        || !w.spoken()
                                .statement()
                                .value()
                                .equals(decides.get().spoken().statement().value()))
                .findFirst());
        String ring = rings.get(rings.size() - 1).id();
        Optional<Asked> asked =
                account.asked().stream().filter(a -> a.isToRing(ring)).reduce((earlier, later) -> later);
        return new RingMember(
                account.id(),
                account.displayName(),
                account.userName(),
                AccountPage.place(inquiry.directory(), account.unit()),
                account.kind(),
                consented,
                asked.map(Asked::at),
                asked.flatMap(Asked::declined),
                decides.map(w -> w.spoken().policy().id()),
                decides.map(w -> w.spoken().policy().name()),
                decides.flatMap(w -> w.way().via().stream().findFirst()),
                decides.map(w -> w.way().via().stream()
                                .map(wording::target)
                                .collect(java.util.stream.Collectors.joining(" › ")))
                        .orElse("the catalogue"),
                beaten.map(w -> w.spoken().policy().name() + " says "
                        + wording.value(
                                climb.orElseThrow().setting(),
                                w.spoken().statement().value())
                        + (w.verdict() == Verdict.TIE
                                ? " and stands later in the ranking"
                                : w.verdict() == Verdict.CUT ? " and is cut off by a lock" : " on a lower rung")));
    }
}
