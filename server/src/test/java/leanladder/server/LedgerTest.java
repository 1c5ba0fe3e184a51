package leanladder.server;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.net.http.HttpResponse;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.TimeUnit;
import leanladder.json.Json;
import leanladder.store.Replay;
import leanladder.store.Store;
import leanladder.store.ThrowAwayPostgres;
import leanladder.store.seats.MovedSeat;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;

/** The ledger of a running server moves with what is published and with time, and says why. */
@Timeout(value = 2, unit = TimeUnit.MINUTES)
class LedgerTest {
    private static final String PEOPLE = "person";
    private static int databases;

    private final TestClock clock = new TestClock();
    private final String database = "ledger_test_" + databases++;
    private RunningServer server;

    /** Five people in one unit, a plan of two seats for all of them. */
    @BeforeEach
    void start() throws Exception {
        ObjectNode small =
                (ObjectNode) Json.read(Files.readString(Path.of("../core/src/test/resources/small-estate.json")));
        ArrayNode accounts = small.putArray("accounts");
        for (int i = 1; i <= 5; i++)
            accounts.addObject()
                    .put("id", "a" + i)
                    .put("userName", "a" + i + "@skerrymore.example")
                    .put(
                            "displayName",
                            List.of("Ana", "Bo", "Cleo", "Dag", "Eve").get(i - 1) + " Osk")
                    .put("kind", PEOPLE)
                    .put("unit", "u2")
                    .put("started", "202" + i + "-01-01");
        ObjectNode plan = (ObjectNode) small.at("/plans/0");
        plan.put("seats", 2).putArray("rules").addObject().put("include", "unit:u2");
        plan.remove(List.of("holders", "ends"));
        ((ArrayNode) small.at("/policies/0/assignments")).removeAll();
        server = RunningServer.start(ThrowAwayPostgres.get(), database, Path.of("no-web"), Json.write(small), clock);
    }

    @AfterEach
    void stop() {
        server.close();
    }

    private static JsonNode json(HttpResponse<String> response) {
        return Json.read(response.body());
    }

    private long last() {
        return json(server.get("/api/v1/session")).get("change").asLong();
    }

    private long publish(String edit) {
        HttpResponse<String> response =
                server.post(("{'base':" + last() + ",'edits':[" + edit + "]}").replace('\'', '"'));
        assertThat(response.statusCode()).as(response.body()).isEqualTo(201);
        return json(response).get("number").asLong();
    }

    private List<String> movedBy(long change) {
        List<String> moves = new ArrayList<>();
        for (MovedSeat seat : server.store().seats().movedBy(change))
            moves.add(seat.account() + (seat.given() ? " given" : " returned") + " because " + seat.because());
        return moves;
    }

    private List<String> holders(String at) throws Exception {
        List<String> holders = new ArrayList<>();
        json(server.get("/api/v1/estate" + at))
                .at("/plans/0/holders")
                .forEach(h -> holders.add(h.get("account").asText()));
        return holders;
    }

    @Test
    void loadingAFileGivesOutTheSeatsThatAreFree() throws Exception {
        assertThat(holders("")).containsExactly("a1", "a2");
        assertThat(movedBy(1))
                .containsExactly(
                        "a1 given because a seat was free when the file was loaded",
                        "a2 given because a seat was free when the file was loaded");
    }

    @Test
    void aLeaversSeatGoesToTheNextByName() throws Exception {
        long left = publish("{'kind':'amend-account','account':'a1','members':{'active':false}}");
        assertThat(movedBy(left))
                .containsExactly(
                        "a1 returned because Ana Osk was deactivated",
                        "a3 given because the seat of Ana Osk came free");
        assertThat(holders("")).containsExactly("a2", "a3");
        // Whoever comes back claims last: seats are not taken from those who work with them.
        long back = publish("{'kind':'amend-account','account':'a1','members':{'active':true}}");
        assertThat(movedBy(back)).isEmpty();
        assertThat(holders("")).containsExactly("a2", "a3");
    }

    @Test
    void whoseUnitMovesAwayIsNoLongerInWhatThePlanIncludesAndThePlanStaysAsItIs() {
        publish("{'kind':'amend-account','account':'a1','members':{'unit':'u3'}}");
        long moved = publish("{'kind':'amend-unit','unit':'u3','members':{'parent':'u1'}}");
        assertThat(movedBy(moved)).first().asString().startsWith("a1 returned because Ana Osk is no longer in ");
    }

    @Test
    void seatsBoughtForLaterAreGivenByTheClockAtTheirOwnInstant() throws Exception {
        Instant tomorrow = TestClock.now().plus(1, ChronoUnit.DAYS).truncatedTo(ChronoUnit.HOURS);
        publish("{'kind':'buy-seats','plan':'l1','purchase':{'seats':2,'from':'" + tomorrow + "'}}");
        long bought = last();
        String climb = "/api/v1/climb?account=a4&setting=chat.private&at=";
        assertThat(json(server.get(climb + tomorrow.minusSeconds(1)))
                        .at("/outcome/value")
                        .asBoolean())
                .isFalse();
        JsonNode foretold = json(server.get(climb + tomorrow)).get("outcome");
        assertThat(foretold.get("value").asBoolean()).isTrue();
        clock.ahead = Duration.ofDays(2);
        long renamed = publish("{'kind':'amend-plan','plan':'l1','members':{'name':'Bridge plan'}}");
        assertThat(renamed).isEqualTo(bought + 2);
        JsonNode byTheClock = json(server.get("/api/v1/changes/" + (bought + 1)));
        assertThat(byTheClock.get("author").asText()).isEqualTo("the clock");
        assertThat(byTheClock.get("at").asText()).isEqualTo(tomorrow.toString());
        assertThat(byTheClock.get("words").toString())
                .contains("Deck plan: 2 seats are given, because a purchase of 2 seats began");
        assertThat(movedBy(bought + 1)).hasSize(2);
        assertThat(json(server.get(climb + tomorrow)).get("outcome")).isEqualTo(foretold);
        assertThat(holders("")).containsExactly("a1", "a2", "a3", "a4");
    }

    @Test
    void howeverManyEdgesAreDueAllArePassedBeforeTheNextChange() throws Exception {
        Instant start = TestClock.now().truncatedTo(ChronoUnit.HOURS);
        StringBuilder purchases = new StringBuilder();
        for (int hour = 1; hour <= 70; hour++)
            purchases
                    .append(hour == 1 ? "" : ",")
                    .append("{'seats':1,'from':'")
                    .append(start.plus(hour, ChronoUnit.HOURS))
                    .append("'}");
        publish("{'kind':'add-plan','plan':{'name':'Nobody','components':[],'purchases':[" + purchases + "]}}");
        publish("{'kind':'buy-seats','plan':'l1','purchase':{'seats':1,'from':'" + start.plus(71, ChronoUnit.HOURS)
                + "'}}");
        clock.ahead = Duration.ofHours(80);
        publish("{'kind':'amend-policy','policy':'p1','members':{'name':'Other'}}");
        assertThat(holders("")).containsExactly("a1", "a2", "a3");
    }

    @Test
    void aServerThatFollowsAndOneThatReadsAfreshHoldTheSameLedger() throws Exception {
        ThrowAwayPostgres postgres = ThrowAwayPostgres.get();
        try (RunningServer other = server.joined(postgres, postgres.connectionTo(database))) {
            Instant soon = TestClock.now().plus(1, ChronoUnit.HOURS);
            publish("{'kind':'buy-seats','plan':'l1','purchase':{'seats':1,'from':'" + soon + "'}}");
            publish("{'kind':'amend-account','account':'a2','members':{'active':false}}");
            publish("{'kind':'give-seats','plan':'l1','accounts':['a5']}");
            clock.ahead = Duration.ofHours(2);
            publish("{'kind':'take-seats','plan':'l1','accounts':['a1']}");
            org.awaitility.Awaitility.await()
                    .until(() ->
                            json(other.get("/api/v1/session")).get("change").asLong() == last());
            for (String account : List.of("a1", "a2", "a3", "a4", "a5")) {
                String climb = "/api/v1/climb?account=" + account + "&setting=chat.private";
                HttpResponse<String> here = server.get(climb);
                if (here.statusCode() != 200) continue;
                assertThat(json(other.get(climb)).get("gates"))
                        .isEqualTo(json(here).get("gates"));
            }
            try (Store anew = postgres.newStore(database + "_replayed")) {
                Replay.all(server.store(), anew);
                for (long number = 1; number <= last(); number++)
                    assertThat(anew.seats().movedBy(number))
                            .as("%s", server.store().journal().change(number))
                            .isEqualTo(server.store().seats().movedBy(number));
            }
        }
    }
}
