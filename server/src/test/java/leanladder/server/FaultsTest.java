package leanladder.server;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import java.net.http.HttpResponse;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicReference;
import leanladder.json.Json;
import leanladder.store.FaultProxy;
import leanladder.store.Store;
import leanladder.store.ThrowAwayPostgres;
import org.awaitility.Awaitility;
import org.awaitility.core.ConditionTimeoutException;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;

/** A server whose PostgreSQL is cut off, silent or gone: what was acknowledged is stored, and what is stored is told. */
@Timeout(value = 4, unit = TimeUnit.MINUTES)
class FaultsTest {
    private FaultProxy proxy;
    private String url;
    private Store store;
    private RunningServer server;

    @BeforeEach
    void start() throws Exception {
        url = ThrowAwayPostgres.get().newDatabase("faults_test");
        proxy = new FaultProxy(FaultProxy.port(url));
        String estate = Files.readString(Path.of("../core/src/test/resources/small-estate.json"));
        store = new Store(
                proxy.through(url),
                ThrowAwayPostgres.get().user(),
                ThrowAwayPostgres.get().password());
        server = RunningServer.over(store, Path.of("no-web"));
        assertThat(server.send("PUT", "/api/v1/estate", estate).statusCode()).isLessThan(300);
        server.unchecked();
    }

    @AfterEach
    void stop() throws Exception {
        proxy.mend();
        server.close();
        proxy.close();
    }

    /** Sends a request again and again until it is acknowledged; the same each time, as its key asks. */
    private void untilAcknowledged(String path, String body, String key) {
        AtomicReference<String> last = new AtomicReference<>("");
        try {
            Awaitility.await().atMost(Duration.ofSeconds(15)).until(() -> send(path, body, key, last) == 201);
        } catch (ConditionTimeoutException never) {
            throw new AssertionError(key + ": " + last.get(), never);
        }
    }

    private int send(String path, String body, String key, AtomicReference<String> last) {
        HttpResponse<String> answer = server.send("POST", path, body, "Idempotency-Key", key);
        last.set(answer.body());
        return answer.statusCode();
    }

    private String rename(int n) {
        JsonNode session = Json.read(server.get("/api/v1/session").body());
        return "{\"base\":" + session.get("change")
                + ",\"edits\":[{\"kind\":\"amend-policy\",\"policy\":\"p1\",\"members\":{\"name\":\"Name " + n
                + "\"}}]}";
    }

    private HttpResponse<String> change(String body, String key) {
        return server.send("POST", "/api/v1/changes", body, "Idempotency-Key", key);
    }

    /** What the journal holds, read past the proxy. */
    private List<String> journal() {
        List<String> words = new ArrayList<>();
        try (Store store = new Store(
                url, ThrowAwayPostgres.get().user(), ThrowAwayPostgres.get().password())) {
            store.journal().since(1).forEach(c -> words.add(c.words().get(0).asText()));
        }
        return words;
    }

    /** Nobody is told that nothing was stored where it was, nor the other way round; the database is asked past the proxy. */
    private void saysWhatBecameOfIt(String said, String key) {
        boolean stored;
        try (Connection db = beside();
                var asked = db.prepareStatement("select from request where key = ?")) {
            asked.setString(1, key);
            stored = asked.executeQuery().next();
        } catch (SQLException e) {
            throw new IllegalStateException(e);
        }
        assertThat(said).as(key).doesNotContain(stored ? "nothing was stored" : "This was stored");
    }

    private void memoryAnswersSoon() {
        Instant began = Instant.now();
        assertThat(server.get("/api/v1/climb?account=a1&setting=chat.private").statusCode())
                .isEqualTo(200);
        assertThat(Duration.between(began, Instant.now())).isLessThan(Duration.ofSeconds(1));
    }

    private void wellAgain() {
        Awaitility.await()
                .atMost(Duration.ofSeconds(15))
                .ignoreExceptions()
                .until(() -> server.send("POST", "/api/v1/drafts", "{}").statusCode() == 201);
    }

    @Test
    void aChangeWhoseCommitIsCutOffAtAnyMessageIsThereOnceAndTold() {
        // How many messages an undisturbed change takes.
        proxy.cutAfter(Integer.MAX_VALUE);
        assertThat(change(rename(0), "undisturbed").statusCode()).isEqualTo(201);
        int messages = Math.min(proxy.sent(), 40);
        assertThat(messages).isGreaterThan(3);
        for (int n = 1; n <= messages; n++) {
            String body = rename(n);
            String name = "Name " + n;
            proxy.cutAfter(n);
            HttpResponse<String> first = change(body, "key " + n);
            proxy.mend();
            assertThat(first.statusCode()).as("%d: %s", n, first.body()).isIn(201, 503);
            saysWhatBecameOfIt(first.body(), "key " + n);
            untilAcknowledged("/api/v1/changes", body, "key " + n);
            assertThat(journal().stream().filter(w -> w.endsWith(name)).count())
                    .as("cut after message %d", n)
                    .isEqualTo(1);
        }
        // Memory, store and a fresh start say the same.
        JsonNode estate = Json.read(server.get("/api/v1/estate").body());
        assertThat(estate.at("/policies/0/name").asText()).isEqualTo("Name " + messages);
        assertThat(Json.read(server.get("/api/v1/session").body()).get("change").asInt())
                .isEqualTo(journal().size() + 1);
    }

    @Test
    void aDraftWhoseCommitIsCutOffIsThereOnce() {
        proxy.cutAfter(Integer.MAX_VALUE);
        untilAcknowledged("/api/v1/drafts", "{}", "undisturbed");
        int messages = Math.min(proxy.sent(), 40);
        for (int n = 1; n <= messages; n++) {
            String key = "draft " + n;
            String body = "{\"name\":\"" + key + "\"}";
            proxy.cutAfter(n);
            HttpResponse<String> first = server.send("POST", "/api/v1/drafts", body, "Idempotency-Key", key);
            proxy.mend();
            saysWhatBecameOfIt(first.body(), key);
            untilAcknowledged("/api/v1/drafts", body, key);
            // Another connection that was cut off with it may still be found out.
            AtomicReference<HttpResponse<String>> drafts = new AtomicReference<>();
            Awaitility.await().atMost(Duration.ofSeconds(15)).until(() -> {
                drafts.set(server.get("/api/v1/drafts"));
                return drafts.get().statusCode() == 200;
            });
            long named = Json.read(drafts.get().body()).findValuesAsText("name").stream()
                    .filter(key::equals)
                    .count();
            assertThat(named).as(key).isEqualTo(1);
        }
    }

    /** Something that can be written again and again, to these by turns. @param stored the question that counts what it stores */
    private record Kind(String method, List<String> paths, String body, String stored) {}

    @Test
    void whateverIsWrittenIsThereOnceWhereverItIsCutOff() throws Exception {
        String changes = "select count(*) from change";
        String estate = server.get("/api/v1/estate").body();
        List<Kind> kinds = List.of(
                new Kind(
                        "POST",
                        List.of("/api/v1/accounts/a1/withdrawals", "/api/v1/accounts/a1/consents"),
                        "{\"ring\":\"dry-dock\"}",
                        changes),
                new Kind(
                        "POST",
                        List.of("/api/v1/accounts/a1/feedback"),
                        "{\"release\":\"meet.captions\",\"verdict\":\"works\"}",
                        changes),
                new Kind(
                        "POST",
                        List.of("/api/v1/checks"),
                        "{\"who\":\"account:a1\",\"setting\":\"meet.captions\"}",
                        "select count(*) from arrival_check"),
                new Kind("PUT", List.of("/api/v1/estate"), estate, changes));
        for (Kind kind : kinds) {
            proxy.cutAfter(Integer.MAX_VALUE);
            assertThat(acknowledged(kind, 0)).as("%s", kind.paths).isTrue();
            int messages = proxy.sent();
            // The last ones are those of the commit and of what comes after it.
            for (int turn = 1; turn <= Math.min(6, messages); turn++) {
                int message = messages + 1 - turn;
                int now = turn;
                int before = Integer.parseInt(asked(kind.stored));
                proxy.cutAfter(message);
                HttpResponse<String> first = send(kind, turn);
                proxy.mend();
                saysWhatBecameOfIt(first.body(), kind.paths.get(0) + turn);
                Awaitility.await(first.body()).atMost(Duration.ofSeconds(15)).until(() -> acknowledged(kind, now));
                assertThat(Integer.parseInt(asked(kind.stored)) - before)
                        .as("%s cut off after message %d", kind.paths, message)
                        .isEqualTo(1);
            }
        }
    }

    private HttpResponse<String> send(Kind kind, int turn) {
        return server.send(
                kind.method,
                kind.paths.get(turn % kind.paths.size()),
                kind.body,
                "Idempotency-Key",
                kind.paths.get(0) + turn,
                "Authorization",
                "Bearer " + RunningServer.SECRET);
    }

    private boolean acknowledged(Kind kind, int turn) {
        return send(kind, turn).statusCode() < 300;
    }

    /** What the database says past the proxy. */
    private String asked(String question) throws SQLException {
        try (Connection db = beside();
                var found = db.createStatement().executeQuery(question)) {
            found.next();
            return found.getString(1);
        }
    }

    @Test
    void whileTheDatabaseIsAwayMemoryAnswersAndWritesAreRefusedSoonAndItComesBackByItself() {
        String asked = "/api/v1/climb?account=a1&setting=chat.private";
        JsonNode before = Json.read(server.get(asked).body()).get("outcome");
        untilAcknowledged("/api/v1/drafts", "{}", "before");
        proxy.away();
        HttpResponse<String> sentAgain = server.send("POST", "/api/v1/drafts", "{}", "Idempotency-Key", "before");
        assertThat(sentAgain.statusCode()).isEqualTo(503);
        assertThat(sentAgain.body()).contains("This was stored");
        for (int n = 0; n < 5; n++) {
            Instant began = Instant.now();
            HttpResponse<String> refused = server.send("POST", "/api/v1/drafts", "{}");
            assertThat(refused.statusCode()).as(refused.body()).isEqualTo(503);
            assertThat(Json.read(refused.body()).get("detail").asText()).contains("database");
            assertThat(Duration.between(began, Instant.now())).isLessThan(Duration.ofSeconds(3));
            assertThat(Json.read(server.get(asked).body()).get("outcome")).isEqualTo(before);
        }
        Awaitility.await()
                .atMost(Duration.ofSeconds(10))
                .until(() -> server.get("/health/ready").statusCode() == 503);
        assertThat(server.get("/health/live").statusCode()).isEqualTo(200);
        proxy.mend();
        wellAgain();
        Awaitility.await()
                .atMost(Duration.ofSeconds(10))
                .until(() -> server.get("/health/ready").statusCode() == 200);
    }

    @Test
    void aDatabaseThatIsThereAndSaysNothingIsNoticedAndMemoryAnswersMeanwhile() {
        proxy.blackHole();
        for (int n = 0; n < 4; n++) {
            memoryAnswersSoon();
            Instant began = Instant.now();
            HttpResponse<String> refused = server.get("/api/v1/changes");
            assertThat(refused.statusCode()).as(refused.body()).isEqualTo(503);
            // Whoever asks first waits five seconds for an answer that does not come; from then on it is known.
            assertThat(Duration.between(began, Instant.now())).isLessThan(Duration.ofSeconds(n == 0 ? 8 : 4));
        }
        proxy.mend();
        proxy.away();
        proxy.mend();
        wellAgain();
    }

    private Connection beside() throws SQLException {
        return DriverManager.getConnection(
                url, ThrowAwayPostgres.get().user(), ThrowAwayPostgres.get().password());
    }

    @Test
    void aFullDiskIsNamedNothingIsStoredAndWithRoomTheSameRequestIsCarriedOut() throws Exception {
        String body = rename(1);
        try (Connection db = beside()) {
            db.createStatement()
                    .execute("create function full_disk() returns trigger language plpgsql as"
                            + " $$ begin raise exception 'could not extend file' using errcode = 'disk_full'; end $$");
            db.createStatement()
                    .execute("create trigger full_disk before insert on change execute function full_disk()");
            HttpResponse<String> refused = change(body, "full");
            assertThat(refused.statusCode()).as(refused.body()).isEqualTo(507);
            assertThat(Json.read(refused.body()).get("detail").asText())
                    .startsWith("The disk is full; nothing was stored");
            assertThat(server.get("/api/v1/climb?account=a1&setting=chat.private")
                            .statusCode())
                    .isEqualTo(200);
            assertThat(journal()).isEmpty();
            assertThat(server.get("/health/ready").body()).contains("The disk of the database is full");
            db.createStatement().execute("drop trigger full_disk on change");
        }
        assertThat(change(body, "full").statusCode()).isEqualTo(201);
        assertThat(server.get("/health/ready").body()).doesNotContain("The disk of the database is full");
        assertThat(journal()).hasSize(1);
    }

    @Test
    void whileMoreIsWrittenThanCanBeTheRestIsToldSoonAndReadsStayQuick() throws Exception {
        int writers = 80;
        var pool = Executors.newFixedThreadPool(writers);
        try (Connection db = beside()) {
            db.setAutoCommit(false);
            db.createStatement().execute("lock table draft in exclusive mode");
            List<Future<HttpResponse<String>>> sent = new ArrayList<>();
            for (int n = 0; n < writers; n++) {
                String key = "busy " + n;
                sent.add(pool.submit(() -> server.send("POST", "/api/v1/drafts", "{}", "Idempotency-Key", key)));
            }
            Awaitility.await()
                    .atMost(Duration.ofSeconds(10))
                    .until(() -> sent.stream().filter(Future::isDone).count() >= writers - 48);
            for (int n = 0; n < 5; n++) memoryAnswersSoon();
            db.rollback();
            int stored = 0;
            for (Future<HttpResponse<String>> one : sent) {
                HttpResponse<String> answer = one.get(20, TimeUnit.SECONDS);
                assertThat(answer.statusCode()).as(answer.body()).isIn(201, 503);
                if (answer.statusCode() == 201) stored++;
                else assertThat(answer.headers().firstValue("Retry-After")).isPresent();
            }
            assertThat(Json.read(server.get("/api/v1/drafts").body()).get("drafts"))
                    .as("what was acknowledged, and no more")
                    .hasSize(stored);
        } finally {
            pool.shutdownNow();
        }
    }

    @Test
    void manyThatWaitForOneThingKeepNobodyWaitingWhoAsksForAnother() throws Exception {
        try (Connection db = beside();
                Sockets waiting = new Sockets(server.address())) {
            db.setAutoCommit(false);
            db.createStatement().execute("lock table change in access exclusive mode");
            waiting.open(300, waiting.head("GET", "/api/v1/changes") + "\r\n");
            for (int n = 0; n < 5; n++) memoryAnswersSoon();
            db.rollback();
        }
        wellAgain();
    }

    @Test
    void aDatabaseOfWhichTooMuchIsAskedIsNotSaidToBeAway() throws Exception {
        try (Connection db = beside();
                Sockets waiting = new Sockets(server.address())) {
            db.setAutoCommit(false);
            db.createStatement().execute("lock table change in access exclusive mode");
            waiting.open(30, waiting.head("GET", "/api/v1/changes") + "\r\n");
            Awaitility.await()
                    .atMost(Duration.ofSeconds(10))
                    .until(() -> store.database().connections().waiting() > 0);
            HttpResponse<String> refused = server.get("/api/v1/drafts");
            assertThat(refused.statusCode()).as(refused.body()).isEqualTo(503);
            assertThat(Json.read(refused.body()).get("detail").asText())
                    .startsWith("More is asked of the database than it answers at once; nothing was stored");
            assertThat(server.get("/health/ready").body()).doesNotContain("The database does not answer");
            db.rollback();
        }
        wellAgain();
    }

    @Test
    void theHealthPageNoticesADeadDatabaseWithoutAnyTraffic() throws Exception {
        proxy.away();
        org.awaitility.Awaitility.await()
                .atMost(Duration.ofSeconds(10))
                .until(() -> server.get("/health/ready").body().contains("\"name\":\"database\",\"well\":false"));
        proxy.mend();
        wellRead();
    }

    @Test
    void aDatabaseThatTakesNoChangesIsNamedAndIsReadAllTheSame() throws Exception {
        try (Connection db = beside()) {
            altered(db, "set default_transaction_read_only = on");
            proxy.away();
            proxy.mend();
            wellRead();
            HttpResponse<String> refused = change(rename(1), "standby");
            assertThat(refused.statusCode()).as(refused.body()).isEqualTo(503);
            assertThat(Json.read(refused.body()).get("detail").asText()).startsWith("The database takes no changes");
            assertThat(server.get("/health/ready").body()).contains("everything can be looked at");
            db.createStatement().execute("set default_transaction_read_only = off");
            altered(db, "reset default_transaction_read_only");
        }
        proxy.away();
        proxy.mend();
        wellRead();
        untilAcknowledged("/api/v1/changes", rename(1), "standby");
    }

    private static void altered(Connection db, String how) throws SQLException {
        db.createStatement()
                .execute("do $$ begin execute format('alter database %I " + how + "', current_database()); end $$");
    }

    private void wellRead() {
        Awaitility.await()
                .atMost(Duration.ofSeconds(15))
                .until(() -> server.get("/api/v1/drafts").statusCode() == 200);
    }
}
