package leanladder.server.preview;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.time.Duration;
import java.time.Instant;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import leanladder.advise.PreviewFinding;
import leanladder.catalogue.Need;
import leanladder.catalogue.Setting;
import leanladder.edit.preview.AskToJoin;
import leanladder.edit.preview.ResumeRelease;
import leanladder.edit.preview.SetOpening;
import leanladder.edit.preview.UpdateRings;
import leanladder.edit.preview.UpdateTracks;
import leanladder.edit.seat.AssignSeats;
import leanladder.edit.session.BatchEdit;
import leanladder.estate.Plan;
import leanladder.estate.Ring;
import leanladder.estate.Track;
import leanladder.json.Json;
import leanladder.server.http.description.SchemaRef;
import leanladder.server.query.QueryContext;
import org.roaringbitmap.RoaringBitmap;

/** What is better known beforehand about previews, in words, each with the edit that mends it where one can. */
final class Warnings {
    private static final int MOST_NAMED = 1000;

    private final QueryContext queryContext;
    private final Instant at;

    private Warnings(QueryContext queryContext) {
        this.queryContext = queryContext;
        this.at = queryContext.question().at();
    }

    /**
     * Something that is better known beforehand.
     *
     * @param setting of the release that it is about
     * @param mend what the edit does, in words @param edit stages it; null where there is none
     */
    public record Warning(
            String words,
            Optional<String> ring,
            Optional<String> setting,
            Optional<String> mend,
            Optional<@SchemaRef("Edit") JsonNode> edit) {}

    /** A way out. */
    private record Fix(String words, JsonNode edit) {}

    static List<Warning> findAll(QueryContext queryContext) {
        Warnings warnings = new Warnings(queryContext);
        return PreviewFinding.findAll(
                        queryContext.instantResolution().columnResolver(),
                        queryContext.estate(),
                        queryContext.directory(),
                        queryContext.question().at())
                .stream()
                .map(warnings::told)
                .toList();
    }

    private Warning told(PreviewFinding finding) {
        if (finding instanceof PreviewFinding.NoRingSetting n)
            return about(
                    n.outermost(),
                    "The catalogue has no setting \"" + Setting.RING
                            + "\", so no policy can put anybody into a ring: everyone" + " stands in "
                            + n.outermost().name(),
                    Optional.empty());
        if (finding instanceof PreviewFinding.NoConsents n)
            return about(
                    n.ring(),
                    "Nobody in " + n.ring().name() + " has consented, so nothing that opens to it is tried; "
                            + may(n.may()),
                    ask(n.ring(), n.may()));
        if (finding instanceof PreviewFinding.OneTester o)
            return about(
                    o.ring(),
                    "Only " + queryContext.directory().account(o.account()).displayName() + " has consented in "
                            + o.ring().name() + ": features for two people cannot be tested",
                    ask(o.ring(), o.others()));
        if (finding instanceof PreviewFinding.OpenInvitations u) {
            int count = u.accounts().getCardinality();
            return about(
                    u.ring(),
                    (count == 1
                                    ? queryContext
                                                    .directory()
                                                    .account(u.accounts().first())
                                                    .displayName() + " was"
                                    : String.format("%,d accounts were", count))
                            + " asked to join " + u.ring().name()
                            + " more than a week ago, and "
                            + (count == 1 ? "has" : "have")
                            + " said neither yes nor no",
                    ask(u.ring(), u.accounts()).map(m -> new Fix("Ask again", m.edit)));
        }
        if (finding instanceof PreviewFinding.EmptyRing e)
            return about(
                    e.setting(),
                    e.ring(),
                    e.setting().title() + (e.at().isAfter(at) ? " opens to " : " is open to ")
                            + e.ring().name()
                            + (e.at().isAfter(at) ? " on " : " since ")
                            + queryContext.estateFormatter().day(e.at()) + ", and nobody stands in it",
                    Optional.of(new Fix("Withdraw", open(e.setting(), e.ring(), Optional.empty()))));
        if (finding instanceof PreviewFinding.MissedPlannedDate p)
            return about(
                    p.setting(),
                    p.ring(),
                    p.setting().title() + " was planned to open to " + p.ring().name() + " on "
                            + queryContext.estateFormatter().day(p.at()) + ", and has not",
                    Optional.of(new Fix("Open it now", open(p.setting(), p.ring(), Optional.of(at)))));
        if (finding instanceof PreviewFinding.StalledRelease l)
            return about(
                    l.setting(),
                    l.ring(),
                    l.setting().title() + (l.held() ? " is held in " : " has stood in ")
                            + l.ring().name() + (l.held() ? ", open there for " : " for ") + days(l.here())
                            + "; in " + l.before().name() + " it stood for " + days(l.there()),
                    Optional.of(
                            l.held()
                                    ? new Fix(
                                            "Resume",
                                            Json.NODES
                                                    .objectNode()
                                                    .put("kind", ResumeRelease.KIND.name())
                                                    .put("release", l.setting().key()))
                                    : new Fix(
                                            "Open it to " + l.next().name(),
                                            open(l.setting(), l.next(), Optional.of(at)))));
        if (finding instanceof PreviewFinding.BelowMinimumAudience t) {
            Optional<Fix> ask = askEach(t.setting(), t.may());
            return new Warning(
                    t.setting().title() + " takes " + t.atLeast() + " to be tried, and "
                            + (t.have() == 0 ? "nobody has it" : t.have() == 1 ? "one has it" : t.have() + " have it")
                            + (t.may().isEmpty() ? "" : "; " + may(t.may())),
                    Optional.empty(),
                    Optional.of(t.setting().key()),
                    ask.map(Fix::words),
                    ask.map(Fix::edit));
        }
        if (finding instanceof PreviewFinding.UntestedDevices u)
            return about(
                    u.setting(),
                    u.ring(),
                    u.setting().title() + " is for " + String.join(", ", u.devices())
                            + (u.devices().size() == 1 ? ", a kind of device" : ", kinds of device") + " on which "
                            + u.ring().name() + " tries nothing",
                    Optional.of(new Fix(
                            "Add "
                                    + u.devices().stream()
                                            .map(device -> device + "s")
                                            .collect(Collectors.joining(", "))
                                    + " to " + u.ring().name(),
                            withDevices(u.ring(), u.devices()))));
        PreviewFinding.Unlicensed u = (PreviewFinding.Unlicensed) finding;
        int count = u.accounts().getCardinality();
        Optional<Fix> give = give(u);
        return new Warning(
                u.setting().title() + " has come to "
                        + (count == 1 ? "one account that holds" : String.format("%,d accounts that hold", count))
                        + " no plan with what it needs",
                Optional.empty(),
                Optional.of(u.setting().key()),
                give.map(Fix::words),
                give.map(Fix::edit));
    }

    private static String may(RoaringBitmap may) {
        int count = may.getCardinality();
        return count == 1 ? "one account may" : String.format("%,d may", count);
    }

    private static String days(Duration time) {
        long days = Math.max(1, time.toDays());
        return days == 1 ? "a day" : days + " days";
    }

    private static Warning about(Ring ring, String words, Optional<Fix> mend) {
        return new Warning(words, Optional.of(ring.id()), Optional.empty(), mend.map(Fix::words), mend.map(Fix::edit));
    }

    private static Warning about(Setting setting, Ring ring, String words, Optional<Fix> mend) {
        return new Warning(
                words, Optional.of(ring.id()), Optional.of(setting.key()), mend.map(Fix::words), mend.map(Fix::edit));
    }

    private static ObjectNode open(Setting setting, Ring ring, Optional<Instant> from) {
        return Json.NODES
                .objectNode()
                .put("kind", SetOpening.KIND.name())
                .put("release", setting.key())
                .put("ring", ring.id())
                .put("from", from.map(Instant::toString).orElse(null));
    }

    private Optional<Fix> ask(Ring ring, RoaringBitmap whom) {
        return askIn(Map.of(ring, whom));
    }

    /** Asks each to join the ring that they stand in; where that asks nobody, as early targets may stand there, the outermost one that does. */
    private Optional<Fix> askEach(Setting setting, RoaringBitmap whom) {
        Map<Ring, RoaringBitmap> byRing = new LinkedHashMap<>();
        Track track = queryContext.estate().trackWith(setting.key());
        List<Ring> rings = track.rings();
        RoaringBitmap left = whom.clone();
        Ring outermost = null;
        for (int i = 0; i < rings.size(); i++) {
            if (!rings.get(i).asksConsent()) continue;
            outermost = rings.get(i);
            RoaringBitmap here = RoaringBitmap.and(
                    whom,
                    queryContext
                            .instantResolution()
                            .columnResolver()
                            .releases(track)
                            .standingIn(i));
            byRing.put(outermost, here);
            left.andNot(here);
        }
        if (outermost != null) Objects.requireNonNull(byRing.get(outermost)).or(left);
        return askIn(byRing);
    }

    private Optional<Fix> askIn(Map<Ring, RoaringBitmap> whom) {
        long count =
                whom.values().stream().mapToLong(RoaringBitmap::getCardinality).sum();
        if (count == 0 || count > MOST_NAMED) return Optional.empty();
        ObjectNode batch = Json.NODES.objectNode().put("kind", BatchEdit.KIND.name());
        ArrayNode edits = batch.putArray("edits");
        whom.forEach((ring, accounts) -> accounts.forEach((int n) -> edits.addObject()
                .put("kind", AskToJoin.KIND.name())
                .put("account", queryContext.directory().account(n).id())
                .put("ring", ring.id())
                .put("at", at.toString())));
        return Optional.of(new Fix(count == 1 ? "Ask them" : "Ask all of them", batch));
    }

    private ObjectNode withDevices(Ring ring, List<String> devices) {
        Track track = queryContext.estate().trackOfRing(ring.id()).orElseThrow();
        if (track.isMain()) {
            ObjectNode edit = Json.NODES.objectNode().put("kind", UpdateRings.KIND.name());
            return edit.set("rings", withDevices(track, ring, devices));
        }
        ObjectNode edit = Json.NODES.objectNode().put("kind", UpdateTracks.KIND.name());
        ArrayNode tracks = edit.putArray("tracks");
        for (Track one : queryContext.estate().tracks()) {
            ObjectNode json = one.json();
            if (one.equals(track)) json.set("rings", withDevices(track, ring, devices));
            tracks.add(json);
        }
        return edit;
    }

    private static ArrayNode withDevices(Track track, Ring ring, List<String> devices) {
        ArrayNode rings = Json.NODES.arrayNode();
        for (Ring one : track.rings()) {
            ObjectNode source = one.source().deepCopy();
            if (one.equals(ring)) {
                Set<String> all = new LinkedHashSet<>(ring.devices());
                all.addAll(devices);
                ArrayNode list = source.putArray("devices");
                all.forEach(list::add);
            }
            rings.add(source);
        }
        return rings;
    }

    /** A seat of the first plan that carries all that the release asks of a licence, with seats free for everyone who lacks one. */
    private Optional<Fix> give(PreviewFinding.Unlicensed unlicensed) {
        int count = unlicensed.accounts().getCardinality();
        if (count > MOST_NAMED) return Optional.empty();
        List<Need.Entitlement> needs = unlicensed.setting().needs().stream()
                .filter(Need.Entitlement.class::isInstance)
                .map(Need.Entitlement.class::cast)
                .toList();
        if (needs.isEmpty()) return Optional.empty();
        for (Plan plan : queryContext.estate().plans()) {
            boolean carries = plan.term().holds(at)
                    && needs.stream().allMatch(n -> n.anyOf().stream().anyMatch(plan.components()::contains));
            int free = queryContext
                    .instantResolution()
                    .entitlements()
                    .allocation(plan.id())
                    .map(a -> a.seats() - a.seated().getCardinality())
                    .orElse(0);
            if (!carries || free < count) continue;
            boolean forAll = true;
            for (int n : unlicensed.accounts())
                forAll &= plan.kinds()
                        .contains(queryContext.directory().account(n).kind());
            if (!forAll) continue;
            ObjectNode edit =
                    Json.NODES.objectNode().put("kind", AssignSeats.KIND.name()).put("plan", plan.id());
            ArrayNode accounts = edit.putArray("accounts");
            unlicensed
                    .accounts()
                    .forEach((int n) ->
                            accounts.add(queryContext.directory().account(n).id()));
            return Optional.of(new Fix((count == 1 ? "Give a seat of " : "Give them seats of ") + plan.name(), edit));
        }
        return Optional.empty();
    }
}
