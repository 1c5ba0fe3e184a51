package leanladder.resolve;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.io.ByteArrayInputStream;
import java.util.List;
import leanladder.RandomEstate;
import leanladder.catalogue.Topology;
import leanladder.catalogue.Value;
import leanladder.estate.read.EstateReader;
import leanladder.json.Json;
import leanladder.reach.Rung;
import org.junit.jupiter.api.Test;

/** Chains of any length do: nothing recurses over the estate. */
class DeepEstatesTest {
    private static final int DEEP = 20_000;

    private static ObjectNode estate() {
        return (ObjectNode) Json.read(
                "{\"format\":\"lean-ladder-estate/1\",\"organisation\":{\"name\":\"S\"},\"units\":[{\"id\":\"u0\",\"name\":\"S\"}],"
                        + "\"accounts\":[],\"groups\":[],\"catalogue\":{\"settings\":[]},\"policies\":[]}");
    }

    /** Files are bounded; what an earlier version stored is not. */
    @Test
    void storedUnitsAndGroupsNestAsDeepAsTheyLike() throws Exception {
        ObjectNode estate = estate();
        for (int i = 1; i < DEEP; i++)
            ((ArrayNode) estate.get("units"))
                    .addObject()
                    .put("id", "u" + i)
                    .put("name", "U")
                    .put("parent", "u" + (i - 1));
        ((ArrayNode) estate.get("accounts"))
                .addObject()
                .put("id", "a")
                .put("userName", "a")
                .put("displayName", "A")
                .put("kind", "person")
                .put("unit", "u" + (DEEP - 1));
        for (int i = 0; i < DEEP; i++) {
            ObjectNode group = ((ArrayNode) estate.get("groups"))
                    .addObject()
                    .put("id", "g" + i)
                    .put("name", "G")
                    .put("purpose", "access");
            group.putArray("members").add(i == 0 ? "account:a" : "group:g" + (i - 1));
        }
        ((ArrayNode) estate.at("/catalogue/settings"))
                .add(Json.read("{\"key\":\"s\",\"title\":\"S\",\"type\":\"switch\",\"default\":true}"));
        ((ArrayNode) estate.get("policies"))
                .add(Json.read(
                        "{\"id\":\"unit\",\"name\":\"P\",\"statements\":[{\"setting\":\"s\",\"set\":true}],\"assignments\":[{\"include\":\"unit:u"
                                + (DEEP - 2) + "\"}]}"))
                .add(Json.read(
                        "{\"id\":\"group\",\"name\":\"P\",\"statements\":[{\"setting\":\"s\",\"set\":false}],\"assignments\":[{\"include\":\"group:g"
                                + (DEEP - 1) + "\"}]}"));
        CompiledEstate compiledEstate = new CompiledEstate(
                EstateReader.readStored(new ByteArrayInputStream(Json.MAPPER.writeValueAsBytes(estate)))
                        .estate());
        EvaluationContext evaluationContext = EvaluationContext.at(RandomEstate.NOW);
        var account = compiledEstate.estate().account("a").orElseThrow();
        var setting = compiledEstate.estate().catalogue().setting("s").orElseThrow();
        Climb climb = new AccountResolver(
                        compiledEstate, evaluationContext, compiledEstate.seats(evaluationContext.at()), account)
                .climb(setting);
        assertThat(climb.outcome().policy()).contains("group");
        assertThat(climb.entries().get(0).matchPath().rung()).isEqualTo(Rung.ofUnit(DEEP - 2));
        assertThat(climb.entries().get(1).matchPath().via()).hasSize(DEEP);
        assertThat(new ColumnResolver(compiledEstate, evaluationContext)
                        .column("s")
                        .of(0))
                .isEqualTo(climb.outcome());
    }

    @Test
    void settingsFollowOneAnotherAsLongAsTheyLike() {
        ObjectNode estate = estate();
        ((ArrayNode) estate.get("accounts"))
                .addObject()
                .put("id", "a")
                .put("userName", "a")
                .put("displayName", "A")
                .put("kind", "person")
                .put("unit", "u0");
        int length = 3000;
        for (int i = 0; i < length; i++) {
            ObjectNode setting = ((ArrayNode) estate.at("/catalogue/settings"))
                    .addObject()
                    .put("key", "s" + i)
                    .put("title", "S")
                    .put("type", "number")
                    .put("min", 0)
                    .put("max", 9);
            if (i == length - 1) setting.put("default", 7);
            else setting.putObject("default").put("follow", "s" + (i + 1));
        }
        CompiledEstate compiledEstate = new CompiledEstate(RandomEstate.read(estate));
        EvaluationContext evaluationContext = EvaluationContext.at(RandomEstate.NOW);
        var account = compiledEstate.estate().account("a").orElseThrow();
        AccountResolver accountResolver = new AccountResolver(
                compiledEstate, evaluationContext, compiledEstate.seats(evaluationContext.at()), account);
        Value seven = new Value.IntegerValue(java.math.BigInteger.valueOf(7));
        assertThat(accountResolver
                        .outcome(compiledEstate
                                .estate()
                                .catalogue()
                                .setting("s0")
                                .orElseThrow())
                        .value())
                .isEqualTo(seven);
        assertThat(new ColumnResolver(compiledEstate, evaluationContext)
                        .column("s0")
                        .of(0)
                        .value())
                .isEqualTo(seven);
    }

    @Test
    void anOrderIsFoundOrItsCycleNamed() {
        List<String> names = java.util.stream.IntStream.range(0, 100_000)
                .mapToObj(String::valueOf)
                .toList();
        Topology chain = Topology.order(
                names, n -> n.equals("0") ? List.of() : List.of(String.valueOf(Integer.parseInt(n) - 1)));
        assertThat(chain.sorted()).isEqualTo(names);
        Topology ring =
                Topology.order(List.of("a", "b", "c"), n -> List.of(n.equals("a") ? "b" : n.equals("b") ? "c" : "b"));
        assertThat(ring.cycle()).containsExactly("b", "c", "b");
    }
}
