package leanladder.bench;

import com.fasterxml.jackson.databind.JsonNode;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.Socket;
import java.net.URI;
import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.TimeUnit;
import leanladder.json.Json;

/**
 * One client takes all that a server gives, in each of several ways, and keeps it: it opens connections and says nothing, or begins what it
 * never ends, or takes nothing of what it is answered, or asks what is costly to answer, very often at once. Meanwhile another one reads and
 * writes as people do, one after the other; what counts is the longest time in which it got no answer.
 */
final class GreedyClientLoad {
    private static final double MARK = 5;
    private static final long LASTS = TimeUnit.SECONDS.toNanos(10);
    private static final int LITTLE_ROOM = 2048;

    private final Table table;
    private final RestClient restClient;
    private final int port;

    GreedyClientLoad(String address, Table table) {
        this.table = table;
        this.restClient = new RestClient(address);
        this.port = URI.create(address).getPort();
    }

    /** @param requests what is sent, each over so many connections of its own */
    private record LoadPattern(String name, int times, List<String> requests) {}

    private List<LoadPattern> ways() {
        String setting = SyntheticEstate.key(1);
        List<String> days = new ArrayList<>();
        for (JsonNode change : Json.read(restClient.get("/changes?limit=200")).path("changes"))
            days.add(get("/climb?account=a2&setting=" + setting + "&at="
                    + URLEncoder.encode(change.get("at").asText(), StandardCharsets.UTF_8)));
        return List.of(
                new LoadPattern("connections that say nothing", 4500, List.of("")),
                new LoadPattern("requests half sent", 2000, List.of("GET /api/v1/session HTTP/1.1\r\nHo")),
                new LoadPattern("small bodies half sent", 2000, List.of(body("POST", "/drafts", 1000))),
                new LoadPattern("large bodies half sent", 100, List.of(body("PUT", "/estate", 50_000_000))),
                new LoadPattern("event streams", 2000, List.of(get("/events"))),
                new LoadPattern("files that nobody takes", 60, List.of(get("/estate"))),
                new LoadPattern("long answers that nobody takes", 110, List.of(get("/outcomes?limit=20000"))),
                new LoadPattern("one costly question", 200, List.of(get("/outcomes?limit=5000"))),
                new LoadPattern(
                        "several costly questions",
                        60,
                        List.of(
                                get("/outcomes?limit=5000"),
                                get("/rings/inner/accounts?limit=5000"),
                                get("/policies/p1/reaches?limit=5000"),
                                get("/plans"),
                                get("/today"))),
                new LoadPattern("many instants of the past", 1, days),
                new LoadPattern("lists from the database", 200, List.of(get("/changes?limit=500"))));
    }

    private String head(String method, String path) {
        return method + " /api/v1" + path + " HTTP/1.1\r\nHost: 127.0.0.1:" + port + "\r\n";
    }

    private String get(String path) {
        return head("GET", path) + "\r\n";
    }

    private String body(String method, String path, int length) {
        return head(method, path) + "Content-Type: application/json\r\nContent-Length: " + length + "\r\n\r\n{";
    }

    /** Goes one way after the other. @return those that kept others waiting for longer than the mark */
    List<String> run() throws IOException {
        List<String> missed = new ArrayList<>();
        for (LoadPattern loadPattern : ways()) {
            double waited = longestWait(loadPattern);
            table.row("others wait: " + loadPattern.name, Table.time(waited), "mark " + Table.time(MARK));
            if (waited > MARK) missed.add("others wait: " + loadPattern.name);
        }
        return missed;
    }

    private double longestWait(LoadPattern loadPattern) throws IOException {
        List<Socket> taken = new ArrayList<>();
        try {
            for (int i = 0; i < loadPattern.times; i++)
                for (String request : loadPattern.requests) open(request).ifPresent(taken::add);
            long end = System.nanoTime() + LASTS;
            double longest = 0;
            for (long answered = System.nanoTime(), now = answered; now < end; now = System.nanoTime())
                if (isAnswered()) {
                    now = System.nanoTime();
                    longest = Math.max(longest, (now - answered) / 1e9);
                    answered = now;
                } else longest = Math.max(longest, (System.nanoTime() - answered) / 1e9);
            return longest;
        } finally {
            for (Socket socket : taken) socket.close();
        }
    }

    private boolean isAnswered() {
        try {
            restClient.get("/climb?account=a1&setting=" + SyntheticEstate.key(2));
            restClient.post("/drafts", "{}");
            return true;
        } catch (IllegalStateException | UncheckedIOException refused) {
            return false;
        }
    }

    /** Where the server takes no more connections, that is all that can be had of it this way. */
    private Optional<Socket> open(String request) throws IOException {
        Socket socket = new Socket();
        try {
            socket.setReceiveBufferSize(LITTLE_ROOM);
            socket.connect(new InetSocketAddress(InetAddress.getLoopbackAddress(), port), 2000);
            socket.getOutputStream().write(request.getBytes(StandardCharsets.ISO_8859_1));
            return Optional.of(socket);
        } catch (IOException refused) {
            socket.close();
            return Optional.empty();
        }
    }
}
