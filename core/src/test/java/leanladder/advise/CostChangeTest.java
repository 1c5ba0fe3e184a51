package leanladder.advise;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.node.ObjectNode;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.List;
import java.util.Set;
import leanladder.RandomEstate;
import leanladder.edit.session.EditSession;
import leanladder.edit.session.RandomEdits;
import leanladder.json.Defects;
import leanladder.json.Json;
import leanladder.json.JsonCursor;
import leanladder.resolve.CompiledEstate;
import org.junit.jupiter.api.Test;

class CostChangeTest {
    private static final Instant NOW = Instant.parse("2026-11-23T12:00:00Z");

    private static List<String> told(String... edits) throws Exception {
        ObjectNode file = (ObjectNode) Json.read(Files.readString(Path.of("src/test/resources/small-estate.json")));
        ObjectNode plan = (ObjectNode) file.at("/plans/0");
        plan.putObject("price").put("amount", "11.50").put("currency", "EUR").put("per", "month");
        CompiledEstate before = new CompiledEstate(RandomEstate.read(file));
        EditSession session = new EditSession(before, RandomEdits.bodies(file));
        Defects defects = new Defects();
        for (String edit : edits) session.apply(new JsonCursor(Json.read(edit.replace('\'', '"')), "", defects));
        assertThat(defects.all()).isEmpty();
        Set<String> touched = session.writeSet().plans();
        return CostChange.between(before.estate(), session.compile().estate(), touched, NOW).stream()
                .map(c -> c.from() + " " + c.seats() + " " + c.more() + " " + c.currency() + " " + c.per())
                .toList();
    }

    @Test
    void seatsThatAreBoughtCostMoreAtOnce() throws Exception {
        assertThat(told("{'kind':'buy-seats','plan':'l1','purchase':{'seats':4}}"))
                .containsExactly("Optional.empty 4 46.00 EUR month");
    }

    @Test
    void seatsThatAreBoughtForLaterCostMoreFromThen() throws Exception {
        assertThat(told("{'kind':'buy-seats','plan':'l1','purchase':{'seats':2,'from':'2027-01-01T00:00:00Z'}}"))
                .containsExactly("Optional[2027-01-01T00:00:00Z] 2 23.00 EUR month");
    }

    @Test
    void aPlanThatIsAddedAndRemovedCostsNothing() throws Exception {
        assertThat(told(
                        "{'kind':'add-plan','plan':{'id':'l2','name':'Two','seats':3,'components':['chat'],"
                                + "'price':{'amount':'1.00','currency':'EUR','per':'month'}}}",
                        "{'kind':'remove-plan','plan':'l2'}"))
                .isEmpty();
    }

    @Test
    void seatsThatAreReturnedCostLessAndSeatsThatAreGivenCostNothing() throws Exception {
        assertThat(told(
                        "{'kind':'buy-seats','plan':'l1','purchase':{'seats':1}}",
                        "{'kind':'return-seats','plan':'l1','seats':2,'from':'2026-11-20T00:00:00Z'}"))
                .containsExactly("Optional.empty -1 -11.50 EUR month");
        assertThat(told("{'kind':'give-seats','plan':'l1','accounts':['a1']}")).isEmpty();
    }

    @Test
    void anotherPriceCostsMoreForAllSeatsAndAnotherCurrencyIsNotCompared() throws Exception {
        assertThat(
                        told(
                                "{'kind':'amend-plan','plan':'l1','members':{'price':{'amount':'12.50','currency':'EUR','per':'month'}}}"))
                .singleElement()
                .asString()
                .startsWith("Optional.empty 0 ");
        assertThat(
                        told(
                                "{'kind':'amend-plan','plan':'l1','members':{'price':{'amount':'12.50','currency':'USD','per':'month'}}}"))
                .isEmpty();
    }
}
