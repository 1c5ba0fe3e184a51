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
import leanladder.document.CodePointOrder;
import leanladder.estate.Account;
import leanladder.estate.Asked;
import leanladder.estate.Consent;
import leanladder.estate.Release;
import leanladder.estate.Ring;
import leanladder.preview.Arrival;
import leanladder.resolve.Climber;
import leanladder.server.access.ClientSecret;
import leanladder.server.draft.Inquiry;
import leanladder.server.http.Answer;
import leanladder.server.http.Api;
import leanladder.server.http.Call;
import leanladder.server.http.Problem;
import leanladder.server.http.Query;
import leanladder.server.http.Room;

/** What is coming to one person, as a client of the suite shows it to that person (resolution.md, section 7). */
public record ComingRoutes(Inquiry.Reader inquiries, ClientSecret secret) implements Room {
    /**
     * The ring in which a person stands.
     *
     * @param consented since when the person's word counts for it @param asked when the person was asked to join
     * @param declined when the person said no
     */
    public record OwnRing(
            String id,
            String name,
            boolean asksConsent,
            Optional<Instant> consented,
            Optional<Instant> asked,
            Optional<Instant> declined) {}

    /** How a release stands for a person. */
    public enum ComingState {
        HAS_COME("come"),
        NEEDS_CONSENT("asks"),
        IS_COMING("coming");

        private final String word;

        ComingState(String word) {
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
    public record OwnRelease(
            String setting,
            String title,
            Optional<String> app,
            ComingState state,
            Optional<Instant> at,
            boolean planned,
            boolean preview,
            boolean oneByOne,
            Optional<Instant> alone,
            Optional<String> note,
            Optional<String> guide,
            List<String> devices,
            Optional<String> feedbackUntil) {}

    /** What is coming to a person: the ring, and the releases, those that wait for the person's word first. */
    public record OwnPreviews(String account, Optional<OwnRing> ring, List<OwnRelease> releases) {}

    @Override
    public void routes(Api api) {
        api.get("/suite/accounts/{id}/previews", this::previews, OwnPreviews.class);
    }

    private Answer previews(Call call) {
        secret.check(call);
        call.query(Set.of());
        Inquiry inquiry = inquiries.of(Query.none());
        String id = call.path("id");
        Account account =
                inquiry.estate().account(id).orElseThrow(() -> Problem.unknown("There is no account \"" + id + "\"."));
        List<Ring> rings = inquiry.estate().rings();
        if (!account.active() || rings.isEmpty()) return Answer.of(new OwnPreviews(id, Optional.empty(), List.of()));
        Climber climber = inquiry.moment().climber(account);
        int mine = climber.ring();
        List<OwnRelease> releases = new ArrayList<>();
        for (Release release : inquiry.estate().releases())
            inquiry.estate()
                    .catalogue()
                    .setting(release.setting())
                    .flatMap(setting -> own(inquiry, climber, mine, setting, release))
                    .ifPresent(releases::add);
        releases.sort(Comparator.comparing((OwnRelease r) -> r.state == ComingState.NEEDS_CONSENT ? 0 : 1)
                .thenComparing(r -> r.at.orElse(Instant.MAX))
                .thenComparing(OwnRelease::setting, CodePointOrder.TEXTS));
        return Answer.of(new OwnPreviews(
                id, Optional.of(own(account, rings.get(mine), inquiry.question().at())), releases));
    }

    private static OwnRing own(Account account, Ring ring, Instant at) {
        Optional<Asked> asked =
                account.asked().stream().filter(a -> a.isToRing(ring.id())).reduce((earlier, later) -> later);
        return new OwnRing(
                ring.id(),
                ring.name(),
                ring.asksConsent(),
                given(account, at, c -> c.isToRing(ring.id())),
                asked.map(Asked::at),
                asked.flatMap(Asked::declined));
    }

    private static Optional<Instant> given(Account account, Instant at, Predicate<Consent> to) {
        return account.consents().stream()
                .filter(c -> c.holds(at) && to.test(c))
                .map(Consent::at)
                .min(Comparator.naturalOrder());
    }

    /** A release as it stands for the person; empty where nothing says that it will ever come. */
    private static Optional<OwnRelease> own(
            Inquiry inquiry, Climber climber, int mine, Setting setting, Release release) {
        List<Ring> rings = inquiry.estate().rings();
        Instant now = inquiry.question().at();
        Arrival arrival = Arrival.of(rings, mine, Optional.of(release), climber.position(), now);
        Optional<Instant> since = Optional.empty();
        boolean planned = false;
        ComingState state = ComingState.HAS_COME;
        if (arrival instanceof Arrival.ToRing come) since = Optional.of(come.since());
        else if (arrival instanceof Arrival.ToTarget come) since = Optional.of(come.since());
        else if (arrival instanceof Arrival.NotConsented) state = ComingState.NEEDS_CONSENT;
        else if (arrival instanceof Arrival.NotOpen not) {
            state = ComingState.IS_COMING;
            since = not.next().map(Arrival.Opening::at);
            if (since.isEmpty()) {
                since = next(inquiry, rings.subList(mine, rings.size()), release);
                planned = true;
            }
            if (since.isEmpty()) return Optional.empty();
        }
        Instant toEveryone = release.opens().get(rings.get(rings.size() - 1).id());
        return Optional.of(new OwnRelease(
                setting.key(),
                setting.title(),
                inquiry.app(setting),
                state,
                since,
                planned,
                state == ComingState.HAS_COME && (toEveryone == null || toEveryone.isAfter(now)),
                release.oneByOne(),
                given(climber.position().account(), now, c -> c.isToRelease(release.setting())),
                text(release, "note"),
                text(release, "guide"),
                release.devices(),
                text(release, "feedbackUntil")));
    }

    private static Optional<Instant> next(Inquiry inquiry, List<Ring> rings, Release release) {
        var planned = release.planned(inquiry.estate().organisation().zone());
        return rings.stream()
                .flatMap(r -> Stream.ofNullable(planned.get(r.id())))
                .min(Comparator.naturalOrder());
    }

    private static Optional<String> text(Release release, String member) {
        return Optional.of(release.source().path(member).asText("")).filter(t -> !t.isEmpty());
    }
}
