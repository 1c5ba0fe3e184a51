package leanladder.change;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.Set;
import leanladder.RandomEstate;
import leanladder.catalogue.Setting;
import leanladder.change.overlay.Edit;
import leanladder.change.overlay.Footprint;
import leanladder.document.Defects;
import leanladder.document.Json;
import leanladder.document.Place;
import leanladder.estate.Policy;
import leanladder.estate.Release;
import leanladder.reach.Rung;
import leanladder.resolve.Ground;
import leanladder.resolve.Outcome;
import leanladder.resolve.Question;
import leanladder.resolve.Share;
import leanladder.resolve.Solution;
import leanladder.seat.Allocation;
import leanladder.seat.Entitlements;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import org.roaringbitmap.RoaringBitmap;

/** What is kept across edits is what would be worked out afresh. */
class WarmTest {
    private static final Question NOW = Question.at(RandomEstate.NOW);

    private static Footprint apply(Book book, String edit) {
        Optional<Edit> read = book.read(new Place(Json.read(edit), "", new Defects()));
        if (read.isEmpty()) return Footprint.EMPTY;
        Footprint touched = read.get().footprint(book.overlay());
        book.carryOut(read.get());
        return touched;
    }

    private static Map<String, Map<Outcome, RoaringBitmap>> columns(Solution solution, Ground ground) {
        Map<String, Map<Outcome, RoaringBitmap>> columns = new HashMap<>();
        for (String key : ground.estate().catalogue().settings().keySet()) {
            Map<Outcome, RoaringBitmap> shares = new HashMap<>();
            for (Share<Outcome> share : solution.column(key).shares())
                shares.merge(share.what(), share.accounts(), (a, b) -> RoaringBitmap.or(a, b));
            columns.put(key, shares);
        }
        return columns;
    }

    private static Map<String, Object> seats(Entitlements entitlements) {
        Map<String, Object> seats = new HashMap<>();
        for (Allocation a : entitlements.allocations()) {
            seats.put(a.plan().id(), List.of(a.claims(), a.seated(), a.claimants(), a.released()));
            for (String component : a.plan().components())
                seats.put("component " + component, entitlements.holding(component));
        }
        return seats;
    }

    private static Map<String, Map<Rung, RoaringBitmap>> reached(Solution solution, Ground ground) {
        Map<String, Map<Rung, RoaringBitmap>> reached = new HashMap<>();
        for (Policy policy : ground.estate().policies())
            reached.put(policy.id(), solution.reached(policy, false).byRung());
        return reached;
    }

    private static Map<String, List<RoaringBitmap>> released(Solution solution, Ground ground) {
        Map<String, List<RoaringBitmap>> released = new HashMap<>();
        for (Release release : ground.estate().releases())
            released.put(
                    release.setting(),
                    List.of(
                            solution.releases().openTo(release.setting()),
                            solution.releases().reachedBy(release.setting())));
        return released;
    }

    /** The edits that are not asked about in between leave patches on patches. */
    @Property(tries = 300)
    void aSolutionKeptAcrossEditsIsTheOneThatIsWorkedOutAfresh(@ForAll long seed) {
        JsonNode estate = RandomEstate.json(seed);
        Ground ground = new Ground(RandomEstate.read(estate));
        Random random = new Random(seed);
        Entitlements seats = ground.seats(NOW.at());
        Solution kept = new Solution(ground, NOW, seats);
        List<Setting> settings =
                List.copyOf(ground.estate().catalogue().settings().values());
        settings.stream().filter(s -> random.nextInt(4) > 0).forEach(s -> kept.column(s.key()));
        if (random.nextBoolean()) reached(kept, ground);
        if (random.nextBoolean()) released(kept, ground);
        Solution warm = kept;
        Ground before = ground;
        for (String edit : RandomEdits.all(ground, random, 4)) {
            Book book = new Book(before, (section, id) -> Json.NODES.objectNode());
            apply(book, edit);
            Ground after = book.after();
            Ripple ripple = new Ripple(book, after, NOW, warm.entitlements());
            warm = warm.after(
                    after,
                    NOW,
                    ripple.seatsAfter(),
                    book.footprint().policies(),
                    ripple.touched(),
                    ripple.touchedKeys());
            before = after;
            if (random.nextBoolean()) continue;
            Entitlements seatsNow = after.seats(NOW.at());
            Solution fresh = new Solution(after, NOW, seatsNow);
            assertThat(columns(warm, after)).as(edit).isEqualTo(columns(fresh, after));
            assertThat(seats(warm.entitlements())).as(edit).isEqualTo(seats(seatsNow));
            assertThat(reached(warm, after)).as(edit).isEqualTo(reached(fresh, after));
            assertThat(released(warm, after)).as(edit).isEqualTo(released(fresh, after));
        }
    }

    /** Numbers of accounts are never given to others, so that whoever is gone leaves a trace. */
    @Property(tries = 100)
    void whoeverComesBackIsReachedAndSeatedAsBefore(@ForAll long seed) {
        JsonNode estate = RandomEstate.json(seed);
        Ground ground = new Ground(RandomEstate.read(estate));
        ground.directory().byStart();
        var columns = columns(new Solution(ground, NOW, ground.seats(NOW.at())), ground);
        for (JsonNode account : estate.get("accounts")) {
            String id = account.get("id").asText();
            Book leaving = new Book(ground, RandomEdits.bodies(estate));
            if (apply(leaving, "{\"kind\":\"remove-account\",\"account\":\"" + id + "\"}") == Footprint.EMPTY) continue;
            Ground gone = leaving.after();
            gone.directory().byStart();
            Book coming = new Book(gone, RandomEdits.bodies(estate));
            coming.restore(
                    List.of(new Book.Written("accounts", id, (ObjectNode) account)),
                    Optional.empty(),
                    Optional.empty());
            Ground back = coming.after();
            assertThat(columns(new Solution(back, NOW, back.seats(NOW.at())), back))
                    .as(id)
                    .isEqualTo(columns);
            assertThat(seats(back.seats(NOW.at()))).as(id).isEqualTo(seats(ground.seats(NOW.at())));
        }
    }

    @Property(tries = 300)
    void aRippleThatGrowsEditByEditIsThatOfAllEdits(@ForAll long seed) {
        JsonNode estate = RandomEstate.json(seed);
        Ground ground = new Ground(RandomEstate.read(estate));
        Book book = new Book(ground, RandomEdits.bodies(estate));
        Ripple growing = new Ripple(book, book.after(), NOW);
        for (String edit : RandomEdits.all(ground, new Random(seed), 4)) {
            Footprint more = apply(book, edit);
            Ground after = book.after();
            growing = growing.with(book, after, more);
            Ripple whole = new Ripple(book, after, NOW);
            assertThat(told(growing)).as(edit).isEqualTo(told(whole));
        }
    }

    static List<Object> told(Ripple ripple) {
        Set<Object> moves = new HashSet<>();
        ripple.moves().forEach(m -> moves.add(List.of(m.setting().key(), m.from(), m.to(), m.effect(), m.accounts())));
        Set<Object> blocks = new HashSet<>();
        ripple.blocks().forEach(b -> blocks.add(List.of(b.setting().key(), b.decided(), b.needs(), b.accounts())));
        return List.of(
                moves,
                blocks,
                ripple.changed(),
                ripple.decidedElsewhere(),
                ripple.blocked(),
                ripple.joining(),
                ripple.leaving(),
                ripple.gainOnly(),
                ripple.loseOnly());
    }
}
