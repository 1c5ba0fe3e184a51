package leanladder.server.preview;

import com.fasterxml.jackson.annotation.JsonInclude;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import java.util.stream.StreamSupport;
import leanladder.advise.PreviewFinding;
import leanladder.catalogue.Kind;
import leanladder.catalogue.Need;
import leanladder.catalogue.Setting;
import leanladder.catalogue.Value;
import leanladder.change.preview.OpenRelease;
import leanladder.document.CodePointOrder;
import leanladder.document.Json;
import leanladder.estate.Account;
import leanladder.estate.Consent;
import leanladder.estate.Release;
import leanladder.estate.Ring;
import leanladder.estate.Statement;
import leanladder.preview.ReleaseSets;
import leanladder.resolve.Climb;
import leanladder.resolve.Outcome;
import leanladder.resolve.Share;
import leanladder.resolve.Verdict;
import leanladder.server.draft.Inquiry;
import leanladder.server.http.Answer;
import leanladder.server.http.Api;
import leanladder.server.http.Call;
import leanladder.server.http.Csv;
import leanladder.server.http.Problem;
import leanladder.server.http.Query;
import leanladder.server.http.Room;
import leanladder.server.http.Shape;
import leanladder.server.list.AccountPage;
import leanladder.server.list.Named;
import leanladder.tell.Wording;
import org.roaringbitmap.RoaringBitmap;

/** Preview rings, and what moves through them: who may and who did, what is open to whom, and what comes when. */
public record PreviewRoutes(Inquiry.Reader inquiries) implements Room {
    /**
     * A ring.
     *
     * @param may how many stand in it
     * @param did how many of them have a word that counts for it; everyone where none is asked
     * @param policies that put people into it, the strongest first
     */
    public record RingLine(
            String id, String name, boolean asksConsent, int may, int did, int rooms, List<Named> policies) {}

    /** An opening to a ring. @param planned whether it is only intended */
    public record Opening(String ring, Instant at, boolean planned) {}

    /** An early opening. @param to as the estate file writes it @param words whom it names */
    public record EarlyOpening(String to, String words, Instant from) {}

    /**
     * A release in short.
     *
     * @param held why it is held, where it is
     * @param has to how many it has come with nothing in the way
     * @param unconsented how many may have it and have not consented
     * @param kept from how many another gate keeps it, though it has come to them
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
            Optional<String> guide,
            List<String> devices,
            int has,
            int unconsented,
            int kept) {}

    /** Something that is better known beforehand. @param setting of the release that it is about @param edit mends it */
    public record Warning(
            String words,
            Optional<String> ring,
            Optional<String> setting,
            Optional<String> mend,
            Optional<@Shape("Edit") JsonNode> edit) {}

    /** Rings from the innermost outwards, releases by their next step, and what is worth a word. */
    public record Previews(
            long change, Instant at, List<RingLine> rings, List<ReleaseLine> releases, List<Warning> warnings) {}

    /** How a release stands in a ring. */
    public record InRing(String ring, String name, int has, int unconsented, int kept) {}

    /** A need of the feature beside its release, in words. */
    public record ReleaseView(ReleaseLine release, List<InRing> rings, List<String> needs) {}

    /**
     * Somebody in a ring.
     *
     * @param policy by which the account stands there, where a policy says so
     * @param target by which it gets into that policy, as the estate file writes it @param way the same in words
     * @param beaten a policy that would have it in another ring, and why it does not win
     */
    public record RingMember(
            String account,
            String displayName,
            String unit,
            Kind kind,

            @JsonInclude(JsonInclude.Include.NON_ABSENT) Optional<Instant> consented,

            Optional<String> policyId,
            Optional<String> policy,
            Optional<String> target,
            String way,
            Optional<String> beaten) {}

    /** A page of a ring's list. @param next to be sent as after; null on the last page */
    public record Roster(int accounts, List<RingMember> members, Optional<String> next) {}

    @Override
    public void routes(Api api) {
        api.get("/previews", this::previews, Previews.class);
        api.get("/releases/{setting}", this::release, ReleaseView.class);
        api.get("/rings/{id}/accounts", this::roster, Roster.class);
    }

    private Answer previews(Call call) {
        Inquiry inquiry = inquiries.of(call.query(Query.about()));
        List<Ring> rings = inquiry.estate().rings();
        if (rings.isEmpty())
            return Answer.of(new Previews(
                    inquiry.snapshot().change(), inquiry.question().at(), List.of(), List.of(), List.of()));
        ReleaseSets sets = inquiry.moment().solution().releases();
        List<RingLine> lines = new ArrayList<>();
        for (int i = 0; i < rings.size(); i++) {
            RoaringBitmap may = sets.standingIn(i);
            lines.add(new RingLine(
                    rings.get(i).id(),
                    rings.get(i).name(),
                    rings.get(i).asksConsent(),
                    may.getCardinality(),
                    did(inquiry, sets, i).getCardinality(),
                    RoaringBitmap.andCardinality(may, inquiry.directory().ofKind(Kind.ROOM)),
                    policies(inquiry, rings.get(i).id())));
        }
        return Answer.of(new Previews(
                inquiry.snapshot().change(),
                inquiry.question().at(),
                lines,
                inquiry.estate().releases().stream()
                        .sorted(Comparator.comparing(Release::setting, CodePointOrder.TEXTS))
                        .map(r -> line(inquiry, r))
                        .toList(),
                PreviewFinding.of(
                                inquiry.moment().solution(),
                                rings,
                                List.copyOf(inquiry.estate().releases()),
                                inquiry.estate().catalogue().settings(),
                                inquiry.question().at(),
                                inquiry.estate().organisation().zone())
                        .stream()
                        .map(f -> warning(inquiry, f))
                        .toList()));
    }

    private static List<Named> policies(Inquiry inquiry, String ring) {
        return inquiry.snapshot().ground().spokenOn(Setting.RING).stream()
                .filter(s -> s.statement() instanceof Statement.Set
                        && s.statement().value() instanceof Value.Choice choice
                        && choice.option().equals(ring))
                .map(s -> new Named(s.policy().id(), s.policy().name()))
                .toList();
    }

    private static RoaringBitmap did(Inquiry inquiry, ReleaseSets sets, int ring) {
        RoaringBitmap may = sets.standingIn(ring);
        if (inquiry.estate().rings().get(ring).asksConsent()) may.and(sets.consentedTo(ring));
        return may;
    }

    /** How a release stands: to whom it has come and works, who has not consented, and from whom another gate keeps it. */
    private record Standing(RoaringBitmap has, RoaringBitmap unconsented, RoaringBitmap kept) {
        /** Worked out once for each moment: nothing of it changes by itself until the next edge. */
        static Standing of(Inquiry inquiry, String setting) {
            Map<String, Standing> known = inquiry.moment().view(Standing.class, ConcurrentHashMap::new);
            return known.computeIfAbsent(setting, s -> find(inquiry, s));
        }

        private static Standing find(Inquiry inquiry, String setting) {
            var solution = inquiry.moment().solution();
            RoaringBitmap come = solution.releases().reachedBy(setting);
            RoaringBitmap blocked = new RoaringBitmap();
            for (Share<Outcome> share : solution.column(setting).shares())
                if (!share.what().blockedBy().isEmpty()) blocked.or(share.accounts());
            return new Standing(
                    RoaringBitmap.andNot(come, blocked),
                    RoaringBitmap.andNot(solution.releases().openTo(setting), come),
                    RoaringBitmap.and(come, blocked));
        }
    }

    private static ReleaseLine line(Inquiry inquiry, Release release) {
        Setting setting = inquiry.setting(release.setting());
        Wording wording = inquiry.wording();
        List<Opening> openings = new ArrayList<>();
        release.opens().forEach((ring, at) -> openings.add(new Opening(ring, at, false)));
        release.planned(inquiry.estate().organisation().zone())
                .forEach((ring, at) -> openings.add(new Opening(ring, at, true)));
        openings.sort(Comparator.comparing(Opening::at));
        JsonNode source = release.source();
        Standing standing = Standing.of(inquiry, release.setting());
        return new ReleaseLine(
                release.setting(),
                setting.title(),
                inquiry.app(setting),
                openings,
                release.early().stream()
                        .map(e -> new EarlyOpening(e.to().text(), wording.target(e.to()), e.from()))
                        .toList(),
                release.oneByOne(),
                release.held(),
                text(source, "owner")
                        .map(o -> inquiry.estate()
                                .account(o)
                                .map(Account::displayName)
                                .orElse(o)),
                text(source, "note"),
                text(source, "guide"),
                StreamSupport.stream(source.path("devices").spliterator(), false)
                        .map(JsonNode::asText)
                        .toList(),
                standing.has.getCardinality(),
                standing.unconsented.getCardinality(),
                standing.kept.getCardinality());
    }

    private static Optional<String> text(JsonNode source, String member) {
        return Optional.of(source.path(member).asText("")).filter(t -> !t.isEmpty());
    }

    private static Warning warning(Inquiry inquiry, PreviewFinding finding) {
        Wording wording = inquiry.wording();
        if (finding instanceof PreviewFinding.NobodyConsented n)
            return about(
                    n.ring(),
                    "Nobody in " + n.ring().name() + " has consented, so nothing that opens to it is tried; "
                            + (n.may() == 1 ? "one account may" : String.format("%,d may", n.may())));
        if (finding instanceof PreviewFinding.OneTester o)
            return about(
                    o.ring(),
                    "Only " + inquiry.directory().account(o.account()).displayName() + " has consented in "
                            + o.ring().name() + ": what takes two cannot be tried");
        if (finding instanceof PreviewFinding.EmptyRing e)
            return new Warning(
                    e.setting().title() + " opens to " + e.ring().name() + " on " + wording.day(e.at())
                            + ", and nobody stands in it",
                    Optional.of(e.ring().id()),
                    Optional.of(e.setting().key()),
                    Optional.empty(),
                    Optional.empty());
        if (finding instanceof PreviewFinding.PlanPassed p) {
            ObjectNode edit = Json.NODES
                    .objectNode()
                    .put("kind", OpenRelease.KIND.name())
                    .put("release", p.setting().key())
                    .put("ring", p.ring().id())
                    .put("from", inquiry.question().at().toString());
            return new Warning(
                    p.setting().title() + " was planned to open to " + p.ring().name() + " on " + wording.day(p.at())
                            + ", and has not",
                    Optional.of(p.ring().id()),
                    Optional.of(p.setting().key()),
                    Optional.of("Open it now"),
                    Optional.of(edit));
        }
        PreviewFinding.Unlicensed u = (PreviewFinding.Unlicensed) finding;
        int count = u.accounts().getCardinality();
        return new Warning(
                u.setting().title() + " has come to "
                        + (count == 1 ? "one account that holds" : String.format("%,d accounts that hold", count))
                        + " no plan with what it needs",
                Optional.empty(),
                Optional.of(u.setting().key()),
                Optional.empty(),
                Optional.empty());
    }

    private static Warning about(Ring ring, String words) {
        return new Warning(words, Optional.of(ring.id()), Optional.empty(), Optional.empty(), Optional.empty());
    }

    private Answer release(Call call) {
        Inquiry inquiry = inquiries.of(call.query(Query.about()));
        String key = call.path("setting");
        Release release = inquiry.estate()
                .release(key)
                .orElseThrow(() -> Problem.unknown("There is no release of \"" + key + "\"."));
        Standing standing = Standing.of(inquiry, key);
        ReleaseSets sets = inquiry.moment().solution().releases();
        List<Ring> rings = inquiry.estate().rings();
        List<InRing> inRings = new ArrayList<>();
        for (int i = 0; i < rings.size(); i++) {
            RoaringBitmap here = sets.standingIn(i);
            inRings.add(new InRing(
                    rings.get(i).id(),
                    rings.get(i).name(),
                    RoaringBitmap.andCardinality(here, standing.has),
                    RoaringBitmap.andCardinality(here, standing.unconsented),
                    RoaringBitmap.andCardinality(here, standing.kept)));
        }
        return Answer.of(new ReleaseView(
                line(inquiry, release),
                inRings,
                inquiry.setting(key).needs().stream()
                        .filter(n -> !(n instanceof Need.Released))
                        .map(inquiry.wording()::need)
                        .toList()));
    }

    private Answer roster(Call call) {
        Query query = call.query(Query.about("which", "limit", "after", "format"));
        Inquiry inquiry = inquiries.of(query);
        List<Ring> rings = inquiry.estate().rings();
        String id = call.path("id");
        int ring = rings.stream().map(Ring::id).toList().indexOf(id);
        if (ring < 0) throw Problem.unknown("There is no ring \"" + id + "\".");
        ReleaseSets sets = inquiry.moment().solution().releases();
        RoaringBitmap did = did(inquiry, sets, ring);
        boolean whoDid =
                query.word("which", List.of("may", "did")).orElse("may").equals("did");
        List<Account> accounts =
                inquiry.directory().byName(whoDid ? did : RoaringBitmap.andNot(sets.standingIn(ring), did));
        if (query.isCsv())
            return Answer.of(new Csv(
                    id + (whoDid ? "-did.csv" : "-may.csv"),
                    List.of("name", "address", "unit", "kind", "consented", "policy", "way"),
                    AccountPage.lines(accounts, a -> {
                        RingMember m = member(inquiry, rings.subList(0, ring + 1), a);
                        return Csv.line(
                                m.displayName,
                                a.userName(),
                                m.unit,
                                a.kind().word(),
                                m.consented.map(Instant::toString).orElse(""),
                                m.policy.orElse(""),
                                m.way);
                    })));
        AccountPage page = AccountPage.of(query);
        return Answer.of(new Roster(
                accounts.size(),
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
        return new RingMember(
                account.id(),
                account.displayName(),
                AccountPage.place(inquiry.directory(), account.unit()),
                account.kind(),
                consented,
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
