package leanladder.bench;

import com.fasterxml.jackson.databind.JsonNode;
import java.util.List;
import leanladder.json.Json;

/** What seats cost a server whose ledger holds millions of them. */
final class SeatBenchmark extends ServerBenchmark {
    private static final int RUNS = 40;
    private static final int MANY = 10_000;

    private final RestClient restClient;

    SeatBenchmark(Table table, SyntheticEstate made, RestClient restClient) {
        super(table, made);
        this.restClient = restClient;
    }

    List<Thresholds> run() {
        JsonNode plans = Json.read(restClient.get("/plans")).get("plans");
        long held = 0;
        for (JsonNode plan : plans) held += plan.get("held").asLong();
        table.row("seats held of " + plans.size() + " plans", String.format("%,d", held), "");
        JsonNode claims =
                Json.read(restClient.get("/plans/l0/claims?limit=" + RUNS)).get("claims");
        double[] leaving = new double[Math.min(RUNS, claims.size())];
        for (int i = 0; i < leaving.length; i++) {
            String account = claims.get(i).get("account").asText();
            leaving[i] = timed(() -> publish(amend(account, "\"active\":false")));
        }
        // Guests are of a kind for which no plan is.
        JsonNode guests = Json.read(restClient.get("/directory/guests?active=true&count=" + RUNS))
                .get("rows");
        double[] without = new double[Math.min(RUNS, guests.size())];
        for (int i = 0; i < without.length; i++) {
            String account = guests.get(i).get("id").asText();
            without[i] = timed(() -> publish(amend(account, "\"active\":false")));
        }
        row("publishing that somebody leaves who has seats", leaving);
        row("publishing that somebody leaves who has none", without);
        mark("a leaver's seats, beside a publish", Table.median(leaving) - Table.median(without), 0.05);
        double bought =
                timed(() -> publish("{\"kind\":\"buy-seats\",\"plan\":\"l0\",\"purchase\":{\"seats\":" + MANY + "}}"));
        mark(String.format("publishing an edit that moves %,d seats", MANY), bought, 2);
        double[] asked = new double[RUNS];
        String setting = licensed();
        for (int i = 0; i < RUNS; i++)
            asked[i] = timed(() -> restClient.get("/licence-gap?who=everyone&setting=" + setting));
        mark("what it would take for everyone", Table.median(asked), 0.1);
        double[] listed = new double[RUNS];
        for (int i = 0; i < RUNS; i++) listed[i] = timed(() -> restClient.get("/plans"));
        row("all plans with what is worth looking at", listed);
        return missed;
    }

    private static String amend(String account, String members) {
        return "{\"kind\":\"amend-account\",\"account\":\"" + account + "\",\"members\":{" + members + "}}";
    }

    /** A setting that asks for a licence. */
    private String licensed() {
        for (JsonNode setting : Json.read(restClient.get("/catalogue")).get("settings"))
            if (setting.path("needs").toString().contains("entitlement"))
                return setting.get("key").asText();
        throw new IllegalStateException("No setting of the estate asks for a licence");
    }

    private Object publish(String edit) {
        long base = Json.read(restClient.get("/session")).get("change").asLong();
        return restClient.post("/changes", "{\"base\":" + base + ",\"note\":\"bench\",\"edits\":[" + edit + "]}");
    }

    private void row(String what, double[] times) {
        table.row(what, Table.time(Table.median(times)), "median");
    }
}
