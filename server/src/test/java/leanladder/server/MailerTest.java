package leanladder.server;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.awaitility.Awaitility.await;

import com.fasterxml.jackson.databind.JsonNode;
import jakarta.mail.Session;
import jakarta.mail.internet.MimeMessage;
import java.io.InputStream;
import java.net.InetAddress;
import java.net.http.HttpResponse;
import java.nio.file.Path;
import java.security.KeyStore;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Properties;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.concurrent.TimeUnit;
import javax.net.ssl.KeyManagerFactory;
import javax.net.ssl.SSLContext;
import javax.net.ssl.TrustManagerFactory;
import leanladder.demo.DemoEstate;
import leanladder.json.Json;
import leanladder.server.mail.SmtpClient;
import leanladder.store.ThrowAwayPostgres;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.api.io.TempDir;
import org.subethamail.smtp.auth.EasyAuthenticationHandlerFactory;
import org.subethamail.smtp.auth.LoginFailedException;
import org.subethamail.smtp.helper.SimpleMessageListener;
import org.subethamail.smtp.server.SMTPServer;

/** Texts to people, handed over to a real mail server. */
@Timeout(value = 2, unit = TimeUnit.MINUTES)
class MailerTest {
    private final TestClock testClock = TestClock.standing("2026-11-25T12:00:00Z");
    private final List<MimeMessage> received = new CopyOnWriteArrayList<>();
    private static final String DATABASE = "post_test";
    private volatile boolean refuses;
    private SMTPServer mail;
    private RunningServer server;

    @BeforeEach
    void start() throws Exception {
        mail = listening(SMTPServer.port(0));
        server = RunningServer.start(
                ThrowAwayPostgres.get(),
                DATABASE,
                Json.write(new DemoEstate().build()),
                testClock,
                places("smtp://127.0.0.1:" + mail.getPortAllocated()));
    }

    private static Server.Endpoints places(String... lines) {
        List<String> file = new ArrayList<>(List.of(lines));
        file.add(1, "ladder@skerrymore.example");
        return new Server.Endpoints(
                Optional.of(Path.of("no-web")), Optional.empty(), Optional.of(SmtpClient.parse(file)));
    }

    private SMTPServer listening(SMTPServer.Builder builder) {
        SMTPServer listening = builder.bindAddress(InetAddress.getLoopbackAddress())
                .simpleMessageListener(new SimpleMessageListener() {
                    @Override
                    public boolean accept(String from, String recipient) {
                        return !refuses;
                    }

                    @Override
                    public void deliver(String from, String recipient, InputStream data) {
                        try {
                            received.add(new MimeMessage(Session.getInstance(new Properties()), data));
                        } catch (jakarta.mail.MessagingException e) {
                            throw new IllegalStateException(e);
                        }
                    }
                })
                .build();
        listening.start();
        return listening;
    }

    @AfterEach
    void stop() {
        server.close();
        mail.stop();
    }

    private void publish(String edit) {
        HttpResponse<String> answer = server.post(("{'base':"
                        + Json.read(server.get("/api/v1/session").body()).get("change") + ",'edits':[" + edit + "]}")
                .replace('\'', '"'));
        assertThat(answer.statusCode()).as(answer.body()).isEqualTo(201);
    }

    private void arrived(int many) {
        await().atMost(Duration.ofSeconds(30)).until(() -> received.size() == many);
    }

    private List<String> today(String topic) {
        List<String> words = new ArrayList<>();
        for (JsonNode matter : Json.read(server.get("/api/v1/today").body()).get("matters"))
            if (matter.get("topic").asText().equals(topic))
                words.add(matter.get("words").asText());
        return words;
    }

    private String ask(String account, String setting) {
        HttpResponse<String> answer = server.send(
                "POST",
                "/api/v1/suite/accounts/" + account + "/requests",
                "{\"setting\":\"" + setting + "\"}",
                "Authorization",
                "Bearer " + RunningServer.SECRET);
        JsonNode id = Json.read(answer.body()).at("/requests/0/id");
        return "/api/v1/requests/" + id + "/declines";
    }

    @Test
    void whoIsAskedToJoinReadsTheTextOfTheAsking() throws Exception {
        publish("{'kind':'ask-to-join','account':'yara.brekke','ring':'sea-trial','at':'2026-11-25T12:00:00Z',"
                + "'text':'Würdest du die Untertitel prüfen?'}");
        arrived(1);
        MimeMessage message = received.get(0);
        assertThat(message.getAllRecipients()[0].toString()).contains("yara.brekke@skerrymore.example");
        assertThat(message.getFrom()[0].toString()).isEqualTo("ladder@skerrymore.example");
        assertThat(message.getSubject()).isEqualTo("Would you try “Sea trial”?");
        assertThat((String) message.getContent())
                .contains("Würdest du die Untertitel prüfen?")
                .contains("What is coming");
        assertThat(message.getHeader("Auto-Submitted")).containsExactly("auto-generated");
        assertThat(message.getMessageID()).endsWith("@skerrymore.example>");
        assertThat(message.getSentDate().toInstant()).isEqualTo("2026-11-25T12:00:00Z");
    }

    @Test
    void whatBecameOfARequestIsWrittenOnceToThePerson() throws Exception {
        ask("mirela.osk", "chat.private");
        server.send("POST", ask("yara.brekke", "assistant.use"), "{\"sentence\":\"Not before spring.\"}");
        arrived(1);
        assertThat(received.get(0).getSubject()).isEqualTo("“Use the assistant” was declined");
        assertThat((String) received.get(0).getContent()).contains("It was declined on 25 Nov: Not before spring.");
        publish(
                "{'kind':'add-policy','policy':{'id':'m','name':'Hers','statements':[{'setting':'chat.private','set':true}],"
                        + "'assignments':[{'include':'account:mirela.osk'}]}}");
        arrived(2);
        publish("{'kind':'amend-policy','policy':'m','members':{'name':'Hers alone'}}");
        assertThat(received.get(1).getSubject()).isEqualTo("“Talk between two” is there for you");
        assertThat((String) received.get(1).getContent()).contains("is there by Wed 25 Nov, 13:00 at the latest");
        await().during(Duration.ofSeconds(2)).atMost(Duration.ofSeconds(5)).until(() -> received.size() == 2);
    }

    @Test
    void whatTheMailServerDoesNotTakeIsHandedOverLater() {
        refuses = true;
        publish(
                "{'kind':'ask-to-join','account':'yara.brekke','ring':'sea-trial','at':'2026-11-25T12:00:00Z','text':'Please.'}");
        await().atMost(Duration.ofSeconds(20))
                .untilAsserted(() -> assertThat(today("check"))
                        .anyMatch(w -> w.startsWith("A mail to somebody was not taken by the mail server so far. ")));
        assertThat(server.store().mail().due(testClock.instant().plusSeconds(60), 10))
                .anyMatch(m -> m.tries() == 1);
        refuses = false;
        testClock.step(Duration.ofSeconds(31));
        arrived(1);
        await().atMost(Duration.ofSeconds(20))
                .until(() -> today("check").stream().noneMatch(w -> w.contains("mail")));
    }

    @Test
    void whereTheMailServerIsAwayTodaySaysSoInPlainWords() {
        mail.stop();
        publish(
                "{'kind':'ask-to-join','account':'yara.brekke','ring':'sea-trial','at':'2026-11-25T12:00:00Z','text':'Please.'}");
        await().atMost(Duration.ofSeconds(20))
                .untilAsserted(() -> assertThat(today("check"))
                        .contains("A mail to somebody was not taken by the mail server so far. It cannot be reached."));
    }

    @Test
    void whatIsComingIsWrittenOnceToThoseWhoGetItAndSaysWhoHasToJoin() throws Exception {
        String path = "/api/v1/releases/chat.translate/notices";
        int accounts =
                arrival("chat.translate", "harbour-trial").get("accounts").asInt();
        HttpResponse<String> answer =
                server.send("POST", path, "{\"to\":\"harbour-trial\",\"text\":\"From Ivo, with thanks.\"}");
        assertThat(answer.body()).isEqualTo("{\"written\":" + accounts + "}");
        arrived(accounts);
        assertThat(server.send("POST", path, "{\"to\":\"harbour-trial\"}").body())
                .isEqualTo("{\"written\":0}");
        assertThat(received).allSatisfy(message -> {
            assertThat(message.getSubject()).isEqualTo("“Read in one's own language” is coming on 3 Dec");
            assertThat((String) message.getContent())
                    .startsWith(
                            "From Ivo, with thanks.\r\n\r\n“Read in one's own language” in Chat comes to you on Thu 3 Dec")
                    .contains("may change, fail, or be taken back");
        });
        long toJoin = 0;
        for (MimeMessage message : received)
            if (((String) message.getContent()).contains("once you have joined the preview")) toJoin++;
        JsonNode roster = Json.read(
                server.get("/api/v1/rings/harbour-trial/accounts?which=may").body());
        assertThat(toJoin)
                .isGreaterThanOrEqualTo(roster.get("accounts").asLong())
                .isLessThan(accounts);
        // Another day is another notice.
        publish(
                "{'kind':'open-release','release':'chat.translate','ring':'harbour-trial','from':'2026-12-04T06:00:00Z'}");
        assertThat(server.send("POST", path, "{\"to\":\"harbour-trial\"}").body())
                .isEqualTo("{\"written\":" + accounts + "}");
    }

    private JsonNode arrival(String setting, String ring) {
        for (JsonNode week : Json.read(server.get("/api/v1/arrivals").body()).get("weeks"))
            for (JsonNode line : week.get("arrivals"))
                if (line.get("setting").asText().equals(setting)
                        && line.get("to").asText().equals(ring)) return line;
        throw new AssertionError(setting + " does not come to " + ring);
    }

    @Test
    void whatIsOpenAlreadyOrOfNoDateIsNotAnnounced() {
        for (String to : List.of("dry-dock", "sea-trial-nowhere", "unit:fleet"))
            assertThat(server.send("POST", "/api/v1/releases/chat.translate/notices", "{\"to\":\"" + to + "\"}")
                            .statusCode())
                    .isEqualTo(409);
        assertThat(server.send("POST", "/api/v1/releases/chat.translate/notices", "{}")
                        .statusCode())
                .isEqualTo(422);
        assertThat(server.send("POST", "/api/v1/releases/chat.nothing/notices", "{\"to\":\"dry-dock\"}")
                        .statusCode())
                .isEqualTo(404);
        assertThat(received).isEmpty();
    }

    @Test
    void twoServersThatNoticeTheSameWriteItOnce() throws Exception {
        ThrowAwayPostgres postgres = ThrowAwayPostgres.get();
        try (RunningServer other = server.joined(
                postgres,
                postgres.connectionTo(DATABASE),
                testClock,
                places("smtp://127.0.0.1:" + mail.getPortAllocated()))) {
            ask("mirela.osk", "chat.private");
            publish(
                    "{'kind':'add-policy','policy':{'id':'m','name':'Hers','statements':[{'setting':'chat.private','set':true}],"
                            + "'assignments':[{'include':'account:mirela.osk'}]}}");
            arrived(1);
            String own = "/api/v1/suite/accounts/mirela.osk/requests";
            String here = server.send("GET", own, "", "Authorization", "Bearer " + RunningServer.SECRET)
                    .body();
            assertThat(Json.read(here).at("/requests/0/state").asText()).isEqualTo("granted");
            await().atMost(Duration.ofSeconds(20))
                    .untilAsserted(() -> assertThat(
                                    other.send("GET", own, "", "Authorization", "Bearer " + RunningServer.SECRET)
                                            .body())
                            .isEqualTo(here));
            await().during(Duration.ofSeconds(2)).atMost(Duration.ofSeconds(5)).until(() -> received.size() == 1);
        }
    }

    @Test
    void aMailServerThatWantsTlsAndAPasswordGetsBoth(@TempDir Path folder) throws Exception {
        SSLContext trusted = certified(folder);
        SSLContext before = SSLContext.getDefault();
        List<String> came = new CopyOnWriteArrayList<>();
        SMTPServer guarded = listening(SMTPServer.port(0)
                .enableTLS(true)
                .requireTLS(true)
                .startTlsSocketFactory(trusted)
                .requireAuth(true)
                .authenticationHandlerFactory(new EasyAuthenticationHandlerFactory((user, password, context) -> {
                    came.add(user + " " + password);
                    if (!password.equals("hidden")) throw new LoginFailedException();
                })));
        SSLContext.setDefault(trusted);
        ThrowAwayPostgres postgres = ThrowAwayPostgres.get();
        server.close();
        try (RunningServer sure = RunningServer.start(
                postgres,
                DATABASE + "_tls",
                Json.write(new DemoEstate().build()),
                testClock,
                places("smtp://localhost:" + guarded.getPortAllocated(), "ladder", "hidden"))) {
            server = sure;
            publish(
                    "{'kind':'ask-to-join','account':'yara.brekke','ring':'sea-trial','at':'2026-11-25T12:00:00Z','text':'Please.'}");
            arrived(1);
            assertThat(came).containsExactly("ladder hidden");
        } finally {
            SSLContext.setDefault(before);
            guarded.stop();
        }
    }

    /** Keys for this machine alone, which are trusted as well. */
    private static SSLContext certified(Path folder) throws Exception {
        String file = folder.resolve("keys.p12").toString();
        Process made = new ProcessBuilder((Path.of(System.getProperty("java.home"), "bin", "keytool")
                                + " -genkeypair -alias here -keyalg EC"
                                + " -dname CN=localhost -ext san=dns:localhost,ip:127.0.0.1 -validity 2 -storetype PKCS12"
                                + " -storepass changeit -keystore " + file)
                        .split(" "))
                .inheritIO()
                .start();
        assertThat(made.waitFor()).isZero();
        char[] word = "changeit".toCharArray();
        KeyStore keys = KeyStore.getInstance(new java.io.File(file), word);
        KeyManagerFactory own = KeyManagerFactory.getInstance(KeyManagerFactory.getDefaultAlgorithm());
        own.init(keys, word);
        KeyStore others = KeyStore.getInstance("PKCS12");
        others.load(null, null);
        others.setCertificateEntry("here", keys.getCertificate("here"));
        TrustManagerFactory trust = TrustManagerFactory.getInstance(TrustManagerFactory.getDefaultAlgorithm());
        trust.init(others);
        SSLContext context = SSLContext.getInstance("TLS");
        context.init(own.getKeyManagers(), trust.getTrustManagers(), null);
        return context;
    }

    @Test
    void aMailFileThatIsWrongIsRefusedWithASentence() {
        assertThatThrownBy(() -> SmtpClient.parse(List.of("smtp://127.0.0.1"))).hasMessageContaining("two lines");
        assertThatThrownBy(() -> SmtpClient.parse(List.of("http://127.0.0.1", "a@b.example")))
                .hasMessageContaining("must be smtp://HOST:PORT");
        assertThatThrownBy(() -> SmtpClient.parse(List.of("smtp://127.0.0.1", "nobody")))
                .hasMessageContaining("must be a mail address");
        assertThat(SmtpClient.parse(List.of("smtps://mail.example:465", "a@b.example", "me", "hidden"))
                        .toString())
                .doesNotContain("hidden");
    }

    /** What is sent and cannot be noted would be sent again, twice a second. */
    @Test
    void nothingIsSentWhileTheDatabaseTakesNoChangesAndEachTextIsSentOnceAfterwards() throws Exception {
        refuses = true;
        publish(
                "{'kind':'ask-to-join','account':'yara.brekke','ring':'sea-trial','at':'2026-11-25T12:00:00Z','text':'Please.'}");
        await().atMost(Duration.ofSeconds(30))
                .until(() -> !server.store()
                        .mail()
                        .stuck(testClock.instant().minusSeconds(60))
                        .isEmpty());
        refuses = false;
        var postgres = ThrowAwayPostgres.get();
        try (var db = java.sql.DriverManager.getConnection(
                postgres.connectionTo(DATABASE), postgres.user(), postgres.password())) {
            String alter = "alter database " + DATABASE;
            db.createStatement().execute(alter + " set default_transaction_read_only = on");
            db.createStatement()
                    .execute("select pg_terminate_backend(pid) from pg_stat_activity"
                            + " where datname = current_database() and pid <> pg_backend_pid()");
            testClock.step(Duration.ofHours(1));
            await().atMost(Duration.ofSeconds(30))
                    .until(() -> Json.read(server.get("/health/ready").body())
                            .toString()
                            .contains("task: mail\",\"well\":false"));
            assertThat(received).isEmpty();
            db.createStatement().execute("set default_transaction_read_only = off");
            db.createStatement().execute(alter + " reset default_transaction_read_only");
            db.createStatement()
                    .execute("select pg_terminate_backend(pid) from pg_stat_activity"
                            + " where datname = current_database() and pid <> pg_backend_pid()");
        }
        arrived(1);
        testClock.step(Duration.ofHours(2));
        await().during(Duration.ofSeconds(2)).atMost(Duration.ofSeconds(5)).until(() -> received.size() == 1);
    }

    /** U+010D U+010A, cut to bytes, end a line: what follows would be a command. */
    @Test
    void anAddressThatCouldEndACommandIsNeverSentToAndItsPersonIsNamed() throws Exception {
        String address = "eve\u010D\u010ARCPT TO:<other@x.example>\u010D\u010A@skerrymore.example";
        server.store()
                .mail()
                .put(
                        leanladder.store.db.WriteRequest.by("tests", testClock.instant()),
                        List.of(new leanladder.store.mail.MailTable.NewMail("odd", address, "Eve", "Hello", "Text")));
        await().atMost(Duration.ofSeconds(30))
                .until(() -> today("check").stream().anyMatch(w -> w.contains("Eve")));
        assertThat(received).isEmpty();
    }
}
