package leanladder.edit.session;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.TreeMap;
import leanladder.RandomEstate;
import leanladder.conflict.ConflictIndex;
import leanladder.json.Defects;
import leanladder.json.Json;
import leanladder.json.JsonCursor;
import leanladder.resolve.CompiledEstate;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class ConflictIndexTest {
    /** The parts that the edits leave, in this order; empty where one of them does not fit. */
    private static Optional<Map<String, JsonNode>> parts(
            JsonNode estate, CompiledEstate compiledEstate, JsonNode... edits) {
        EditSession editSession = new EditSession(compiledEstate, RandomEdits.bodies(estate));
        for (JsonNode edit : edits)
            if (editSession.apply(new JsonCursor(edit, "", new Defects())).isEmpty()) return Optional.empty();
        Map<String, JsonNode> parts = new TreeMap<>();
        editSession.written().forEach(w -> parts.put(w.section() + "/" + w.key(), inAnyOrder(w.body())));
        editSession.removed().forEach(w -> parts.put(w.section() + "/" + w.key(), Json.NODES.nullNode()));
        return Optional.of(parts);
    }

    /** Lists of statements, assignments and members say the same in any order. */
    private static JsonNode inAnyOrder(ObjectNode part) {
        ObjectNode sorted = part.deepCopy();
        for (String list : List.of("statements", "assignments", "members"))
            if (part.path(list).isArray()) {
                List<JsonNode> items = new ArrayList<>();
                part.get(list).forEach(items::add);
                items.sort(Comparator.comparing(Json::write));
                ArrayNode inOrder = sorted.putArray(list);
                items.forEach(inOrder::add);
            }
        return sorted;
    }

    /**
     * What lets drafts be carried over: of two people's edits that do not get into each other's way, it does not matter who
     * publishes first. Where one order does not fit, the edit is refused and neither is lost.
     */
    @Property(tries = 400)
    void editsThatDoNotMeetLeaveTheSameInEitherOrder(@ForAll long seed) {
        JsonNode estate = RandomEstate.json(seed);
        CompiledEstate compiledEstate = new CompiledEstate(RandomEstate.read(estate));
        List<JsonNode> edits = RandomEdits.all(compiledEstate, new Random(seed), 5).stream()
                .map(Json::read)
                .toList();
        for (JsonNode mine : edits)
            for (JsonNode theirs : edits.subList(0, edits.indexOf(mine))) {
                if (ConflictIndex.isConflict(mine, theirs)) continue;
                var one = parts(estate, compiledEstate, mine, theirs);
                var other = parts(estate, compiledEstate, theirs, mine);
                if (one.isPresent() && other.isPresent())
                    assertThat(one.get()).as("%s and %s", mine, theirs).isEqualTo(other.get());
            }
    }

    /** New rings of both kinds of track once shared an id; an earlier text of terms was once kept or not by the order. */
    @ParameterizedTest
    @ValueSource(longs = {-2574594003L, 4393652L})
    void whatOnceDependedOnTheOrderDoesNotAnyMore(long seed) {
        editsThatDoNotMeetLeaveTheSameInEitherOrder(seed);
    }

    /** Whoever clashes with one clashes with the other too. */
    @Property(tries = 200)
    void toMeetIsMutual(@ForAll long seed) {
        CompiledEstate compiledEstate = new CompiledEstate(RandomEstate.read(RandomEstate.json(seed)));
        List<JsonNode> edits = RandomEdits.all(compiledEstate, new Random(seed), 6).stream()
                .map(Json::read)
                .toList();
        for (JsonNode a : edits)
            for (JsonNode b : edits)
                assertThat(ConflictIndex.isConflict(a, b)).isEqualTo(ConflictIndex.isConflict(b, a));
    }

    @Test
    void seatsGivenAndTakenByNameLeaveTheSameInEitherOrderHoweverTheRulesStood() {
        JsonNode estate = Json.read("""
                {'format': 'lean-ladder-estate/1', 'organisation': {'name': 'Skerry'},
                 'catalogue': {'apps': [], 'entitlements': [{'id': 'chat', 'name': 'Chat'}], 'settings': []},
                 'units': [{'id': 'u', 'name': 'Skerry'}], 'groups': [], 'workspaces': [], 'policies': [],
                 'accounts': [
                   {'id': 'a0', 'userName': 'a0', 'displayName': 'A0', 'kind': 'person', 'unit': 'u'},
                   {'id': 'a6', 'userName': 'a6', 'displayName': 'A6', 'kind': 'person', 'unit': 'u'}],
                 'plans': [{'id': 'l', 'name': 'Desk plan', 'seats': 2, 'components': ['chat'],
                   'rules': [{'include': 'organisation'}, {'include': 'account:a6'}, {'except': 'account:a6'}]}]}
                """.replace('\'', '"'));
        CompiledEstate compiledEstate = new CompiledEstate(RandomEstate.read(estate));
        JsonNode give = Json.read("{\"kind\":\"give-seats\",\"plan\":\"l\",\"accounts\":[\"a0\"]}");
        JsonNode take = Json.read("{\"kind\":\"take-seats\",\"plan\":\"l\",\"accounts\":[\"a6\"]}");
        assertThat(parts(estate, compiledEstate, give, take)).isEqualTo(parts(estate, compiledEstate, take, give));
    }
}
