package leanladder.edit.session;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.Set;
import leanladder.RandomEstate;
import leanladder.catalogue.Setting;
import leanladder.estate.Policy;
import leanladder.estate.Release;
import leanladder.json.Defects;
import leanladder.json.Json;
import leanladder.json.JsonCursor;
import leanladder.reach.Rung;
import leanladder.resolve.ColumnResolver;
import leanladder.resolve.CompiledEstate;
import leanladder.resolve.EvaluationContext;
import leanladder.resolve.Outcome;
import leanladder.resolve.Segment;
import leanladder.ripple.Ripple;
import leanladder.seat.Allocation;
import leanladder.seat.Entitlements;
import leanladder.workingcopy.WriteSet;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import org.roaringbitmap.RoaringBitmap;

/** What is kept across edits is what would be worked out afresh. */
class CacheUpdateTest {
    private static final EvaluationContext NOW = EvaluationContext.at(RandomEstate.NOW);

    private static WriteSet apply(EditSession editSession, String edit) {
        return editSession
                .apply(new JsonCursor(Json.read(edit), "", new Defects()))
                .map(AppliedEdit::touched)
                .orElse(WriteSet.EMPTY);
    }

    static Map<String, Map<Outcome, RoaringBitmap>> columns(
            ColumnResolver columnResolver, CompiledEstate compiledEstate) {
        Map<String, Map<Outcome, RoaringBitmap>> columns = new HashMap<>();
        for (String key : compiledEstate.estate().catalogue().settings().keySet()) {
            Map<Outcome, RoaringBitmap> shares = new HashMap<>();
            for (Segment<Outcome> segment : columnResolver.column(key).shares())
                shares.merge(segment.what(), segment.accounts(), (a, b) -> RoaringBitmap.or(a, b));
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

    private static Map<String, Map<Rung, RoaringBitmap>> reached(
            ColumnResolver columnResolver, CompiledEstate compiledEstate) {
        Map<String, Map<Rung, RoaringBitmap>> reached = new HashMap<>();
        for (Policy policy : compiledEstate.estate().policies())
            reached.put(policy.id(), columnResolver.reached(policy, false).byRung());
        return reached;
    }

    private static Map<String, List<RoaringBitmap>> released(
            ColumnResolver columnResolver, CompiledEstate compiledEstate) {
        Map<String, List<RoaringBitmap>> released = new HashMap<>();
        for (Release release : compiledEstate.estate().releases())
            released.put(
                    release.setting(),
                    List.of(
                            columnResolver.releases().openTo(release.setting()),
                            columnResolver.releases().reachedBy(release.setting())));
        return released;
    }

    /** The edits that are not asked about in between leave patches on patches. */
    @Property(tries = 300)
    void aSolutionKeptAcrossEditsIsTheOneThatIsWorkedOutAfresh(@ForAll long seed) {
        JsonNode estate = RandomEstate.json(seed);
        CompiledEstate compiledEstate = new CompiledEstate(RandomEstate.read(estate));
        Random random = new Random(seed);
        Entitlements seats = compiledEstate.seats(NOW.at());
        ColumnResolver kept = new ColumnResolver(compiledEstate, NOW, seats);
        List<Setting> settings =
                List.copyOf(compiledEstate.estate().catalogue().settings().values());
        settings.stream().filter(s -> random.nextInt(4) > 0).forEach(s -> kept.column(s.key()));
        if (random.nextBoolean()) reached(kept, compiledEstate);
        if (random.nextBoolean()) released(kept, compiledEstate);
        ColumnResolver warm = kept;
        CompiledEstate before = compiledEstate;
        for (String edit : RandomEdits.all(compiledEstate, random, 4)) {
            EditSession editSession = new EditSession(before, (section, id) -> Json.NODES.objectNode());
            apply(editSession, edit);
            CompiledEstate after = editSession.compile();
            Ripple ripple = new Ripple(editSession, after, NOW, warm.entitlements());
            warm = warm.update(
                    after,
                    NOW,
                    ripple.seatsAfter(),
                    editSession.writeSet().policies(),
                    ripple.touched(),
                    ripple.touchedKeys());
            before = after;
            if (random.nextBoolean()) continue;
            Entitlements seatsNow = after.seats(NOW.at());
            ColumnResolver fresh = new ColumnResolver(after, NOW, seatsNow);
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
        CompiledEstate compiledEstate = new CompiledEstate(RandomEstate.read(estate));
        compiledEstate.directory().byStart();
        var columns = columns(new ColumnResolver(compiledEstate, NOW, compiledEstate.seats(NOW.at())), compiledEstate);
        for (JsonNode account : estate.get("accounts")) {
            String id = account.get("id").asText();
            EditSession leaving = new EditSession(compiledEstate, RandomEdits.bodies(estate));
            if (apply(leaving, "{\"kind\":\"remove-account\",\"account\":\"" + id + "\"}") == WriteSet.EMPTY) continue;
            CompiledEstate gone = leaving.compile();
            gone.directory().byStart();
            EditSession coming = new EditSession(gone, RandomEdits.bodies(estate));
            coming.restore(
                    List.of(new EditSession.WrittenEntity("accounts", id, (ObjectNode) account)),
                    EditSession.FileFrame.SAME);
            CompiledEstate back = coming.compile();
            assertThat(columns(new ColumnResolver(back, NOW, back.seats(NOW.at())), back))
                    .as(id)
                    .isEqualTo(columns);
            assertThat(seats(back.seats(NOW.at()))).as(id).isEqualTo(seats(compiledEstate.seats(NOW.at())));
        }
    }

    @Property(tries = 300)
    void aRippleThatGrowsEditByEditIsThatOfAllEdits(@ForAll long seed) {
        JsonNode estate = RandomEstate.json(seed);
        CompiledEstate compiledEstate = new CompiledEstate(RandomEstate.read(estate));
        EditSession editSession = new EditSession(compiledEstate, RandomEdits.bodies(estate));
        Ripple growing = new Ripple(editSession, editSession.compile(), NOW);
        for (String edit : RandomEdits.all(compiledEstate, new Random(seed), 4)) {
            WriteSet more = apply(editSession, edit);
            CompiledEstate after = editSession.compile();
            growing = growing.with(editSession, after, more);
            Ripple whole = new Ripple(editSession, after, NOW);
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
