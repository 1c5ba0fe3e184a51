package leanladder.server.preview;

import com.fasterxml.jackson.databind.JsonNode;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import java.util.stream.Collectors;
import leanladder.catalogue.Kind;
import leanladder.catalogue.Need;
import leanladder.catalogue.Setting;
import leanladder.catalogue.Value;
import leanladder.document.CodePointOrder;
import leanladder.estate.Account;
import leanladder.estate.Feedback;
import leanladder.estate.Release;
import leanladder.estate.Ring;
import leanladder.estate.Statement;
import leanladder.preview.Arriving;
import leanladder.preview.Coming;
import leanladder.preview.ReleaseSets;
import leanladder.resolve.Share;
import leanladder.server.draft.Inquiry;
import leanladder.server.http.Answer;
import leanladder.server.http.Api;
import leanladder.server.http.Call;
import leanladder.server.http.Problem;
import leanladder.server.http.Query;
import leanladder.server.http.Room;
import leanladder.server.list.Named;
import leanladder.server.today.Matter;
import leanladder.server.today.Matters;
import leanladder.tell.Wording;
import org.roaringbitmap.RoaringBitmap;

/** Preview rings, and what moves through them: who may and who did, what is open to whom, and what comes when. */
public record PreviewRoutes(Inquiry.Reader inquiries) implements Room, Matters {
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
            List<Named> policies) {}

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
            Optional<String> guide,
            List<String> devices,
            int atLeast,
            Optional<String> feedbackUntil,
            FeedbackCount feedback,
            int has,
            int unconsented,
            int kept,
            int alone) {}

    /** Rings from the innermost outwards, releases by their next step, and what is worth a word. */
    public record Previews(
            long change,
            Instant at,
            List<RingLine> rings,
            List<ReleaseLine> releases,
            List<Warnings.Warning> warnings) {}

    /** How a release stands in a ring. */
    public record InRing(String ring, String name, int has, int unconsented, int kept) {}

    /** Settings that are meant to be set together with that of a release. @param settings all of them, its own too */
    public record Together(String family, String name, List<Named> settings) {}

    /** A release, how it stands in each ring, what its feature needs besides, in words, and the families that it belongs to. */
    public record ReleaseView(ReleaseLine release, List<InRing> rings, List<String> needs, List<Together> families) {}

    /** What is wrong with rings and releases, and what opens within a week. */
    @Override
    public List<Matter> of(Inquiry inquiry) {
        if (inquiry.estate().rings().isEmpty()) return List.of();
        List<Matter> matters = new ArrayList<>();
        for (Warnings.Warning warning : Warnings.of(inquiry)) {
            String about = warning.setting()
                    .map(s -> "release/" + s)
                    .orElseGet(() -> "ring/" + warning.ring().orElse(""));
            matters.add(new Matter(
                    Matter.Topic.PREVIEW,
                    "preview:" + about + ":" + warning.words().hashCode(),
                    warning.words() + ".",
                    "/previews/" + about,
                    Optional.empty()));
        }
        Instant now = inquiry.question().at();
        for (Arriving arriving : Arriving.between(
                inquiry.estate(),
                inquiry.directory(),
                inquiry.moment().solution().releases(),
                now,
                now.plus(SOON))) {
            Coming coming = arriving.coming();
            String setting = coming.release().setting();
            String whom = coming.ring()
                    .map(Ring::name)
                    .orElseGet(() -> inquiry.wording().target(coming.target().orElseThrow()));
            int accounts = arriving.accounts().getCardinality();
            matters.add(new Matter(
                    Matter.Topic.OPENING,
                    "opening:" + setting + ":" + coming.whom() + ":" + coming.at(),
                    inquiry.setting(setting).title() + (coming.planned() ? " is planned to open to " : " opens to ")
                            + whom
                            + " on " + inquiry.wording().moment(coming.at()) + ", for "
                            + (accounts == 1 ? "one account" : String.format("%,d accounts", accounts)) + ".",
                    "/previews/release/" + setting,
                    Optional.of(coming.at())));
        }
        return matters;
    }

    @Override
    public void routes(Api api) {
        api.get("/previews", this::previews, Previews.class);
        api.get("/releases/{setting}", this::release, ReleaseView.class);
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
            RoaringBitmap did = did(inquiry, i);
            Answers answers = Answers.of(inquiry, rings.get(i), RoaringBitmap.andNot(may, did));
            lines.add(new RingLine(
                    rings.get(i).id(),
                    rings.get(i).name(),
                    rings.get(i).asksConsent(),
                    may.getCardinality(),
                    did.getCardinality(),
                    RoaringBitmap.andCardinality(may, inquiry.directory().ofKind(Kind.ROOM)),
                    answers.waiting,
                    answers.declined,
                    rings.get(i).devices(),
                    policies(inquiry, rings.get(i).id())));
        }
        Map<String, List<Feedback>> said =
                inquiry.estate().feedback().stream().collect(Collectors.groupingBy(Feedback::release));
        return Answer.of(new Previews(
                inquiry.snapshot().change(),
                inquiry.question().at(),
                lines,
                inquiry.estate().releases().stream()
                        .sorted(Comparator.comparing(Release::setting, CodePointOrder.TEXTS))
                        .map(r -> line(inquiry, r, said.getOrDefault(r.setting(), List.of())))
                        .toList(),
                Warnings.of(inquiry)));
    }

    private static List<Named> policies(Inquiry inquiry, String ring) {
        return inquiry.snapshot().ground().spokenOn(Setting.RING).stream()
                .filter(s -> s.statement() instanceof Statement.Set
                        && s.statement().value() instanceof Value.Choice choice
                        && choice.option().equals(ring))
                .map(s -> new Named(s.policy().id(), s.policy().name()))
                .toList();
    }

    /** Who stands in a ring and has consented, as far as it asks. A fresh set. */
    static RoaringBitmap did(Inquiry inquiry, int ring) {
        ReleaseSets sets = inquiry.moment().solution().releases();
        RoaringBitmap did = sets.standingIn(ring);
        if (inquiry.estate().rings().get(ring).asksConsent()) did.and(sets.consentedTo(ring));
        return did;
    }

    /** What those who were asked to join a ring, and have not consented, said. */
    private record Answers(int waiting, int declined) {
        static Answers of(Inquiry inquiry, Ring ring, RoaringBitmap open) {
            int[] count = new int[2];
            RoaringBitmap.and(open, inquiry.directory().asked())
                    .forEach((int n) -> inquiry.directory().account(n).asked().stream()
                            .filter(a -> a.isToRing(ring.id()))
                            .reduce((earlier, later) -> later)
                            .ifPresent(a -> count[a.declined().isPresent() ? 1 : 0]++));
            return new Answers(count[0], count[1]);
        }
    }

    /**
     * How a release stands.
     *
     * @param open to whom it would have come if all who are asked had consented @param come to whom it has come
     * @param blocked from whom some gate keeps it, each account in one of these
     * @param has to how many it has come and works @param kept to how many it has come and another gate keeps it from them
     * @param unconsented how many have not consented @param alone how many took it without their ring
     */
    private record Standing(
            RoaringBitmap open,
            RoaringBitmap come,
            List<RoaringBitmap> blocked,
            int has,
            int kept,
            int unconsented,
            int alone) {
        /** Worked out once for each moment: nothing of it changes by itself until the next edge. */
        static Standing of(Inquiry inquiry, String setting) {
            Map<String, Standing> known = inquiry.moment().view(Standing.class, ConcurrentHashMap::new);
            return known.computeIfAbsent(setting, s -> find(inquiry, s));
        }

        private static Standing find(Inquiry inquiry, String setting) {
            var solution = inquiry.moment().solution();
            ReleaseSets sets = solution.releases();
            RoaringBitmap open = sets.openTo(setting);
            RoaringBitmap come = sets.reachedBy(setting);
            List<RoaringBitmap> blocked = solution.column(setting).shares().stream()
                    .filter(share -> !share.what().blockedBy().isEmpty())
                    .map(Share::accounts)
                    .toList();
            RoaringBitmap alone = RoaringBitmap.and(come, sets.consentedAlone(setting));
            int kept = in(come, blocked);
            return new Standing(
                    open,
                    come,
                    blocked,
                    come.getCardinality() - kept,
                    kept,
                    RoaringBitmap.andNotCardinality(open, come),
                    RoaringBitmap.andNotCardinality(
                            alone, sets.consentedTo(inquiry.estate().rings().size() - 1)));
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
                    RoaringBitmap.andCardinality(open, accounts) - here.getCardinality(),
                    keptHere);
        }
    }

    private static ReleaseLine line(Inquiry inquiry, Release release, List<Feedback> said) {
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
                release.devices(),
                release.atLeast(),
                text(source, "feedbackUntil"),
                count(said),
                standing.has,
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
        for (int i = 0; i < rings.size(); i++) inRings.add(standing.among(sets.standingIn(i), rings.get(i)));
        return Answer.of(new ReleaseView(
                line(
                        inquiry,
                        release,
                        inquiry.estate().feedback().stream()
                                .filter(f -> f.release().equals(key))
                                .toList()),
                inRings,
                inquiry.setting(key).needs().stream()
                        .filter(n -> !(n instanceof Need.Released))
                        .map(inquiry.wording()::need)
                        .toList(),
                families(inquiry, key)));
    }

    private static List<Together> families(Inquiry inquiry, String setting) {
        return inquiry.estate().catalogue().families().stream()
                .filter(f -> f.settings().contains(setting))
                .map(f -> new Together(
                        f.id(),
                        f.name(),
                        f.settings().stream()
                                .map(s -> new Named(s, inquiry.setting(s).title()))
                                .toList()))
                .toList();
    }
}
