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
import java.time.Duration;
import java.util.List;
import java.util.Optional;
import java.util.Properties;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.concurrent.TimeUnit;
import leanladder.demo.DemoEstate;
import leanladder.document.Json;
import leanladder.server.mail.MailServer;
import leanladder.store.ThrowAwayPostgres;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import org.subethamail.smtp.helper.SimpleMessageListener;
import org.subethamail.smtp.server.SMTPServer;

/** Texts to people, handed over to a real mail server. */
@Timeout(value = 2, unit = TimeUnit.MINUTES)
class PostTest {
    private final Hands hands = Hands.standing("2026-11-25T12:00:00Z");
    private final List<MimeMessage> received = new CopyOnWriteArrayList<>();
    private volatile boolean refuses;
    private SMTPServer mail;
    private RunningServer server;

    @BeforeEach
    void start() throws Exception {
        mail = SMTPServer.port(0)
                .bindAddress(InetAddress.getLoopbackAddress())
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
        mail.start();
        server = RunningServer.start(
                ThrowAwayPostgres.get(),
                "post_test",
                Json.write(new DemoEstate().build()),
                hands,
                new Server.Places(
                        Optional.of(Path.of("no-web")),
                        Optional.empty(),
                        Optional.of(MailServer.of(
                                List.of("smtp://127.0.0.1:" + mail.getPortAllocated(), "ladder@skerrymore.example")))));
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
        assertThat(received.get(1).getSubject()).isEqualTo("“Start private chats” is there for you");
        assertThat((String) received.get(1).getContent()).contains("is there by Wed 25 Nov, 13:00 at the latest");
        await().during(Duration.ofSeconds(2)).atMost(Duration.ofSeconds(5)).until(() -> received.size() == 2);
    }

    @Test
    void whatTheMailServerDoesNotTakeIsHandedOverLater() {
        refuses = true;
        publish(
                "{'kind':'ask-to-join','account':'yara.brekke','ring':'sea-trial','at':'2026-11-25T12:00:00Z','text':'Please.'}");
        await().atMost(Duration.ofSeconds(20))
                .until(() -> server.store().mail().due(hands.instant().plusSeconds(60), 10).stream()
                        .anyMatch(m -> m.tries() == 1));
        refuses = false;
        hands.step(Duration.ofSeconds(31));
        arrived(1);
    }

    @Test
    void aMailFileThatIsWrongIsRefusedWithASentence() {
        assertThatThrownBy(() -> MailServer.of(List.of("smtp://127.0.0.1"))).hasMessageContaining("two lines");
        assertThatThrownBy(() -> MailServer.of(List.of("http://127.0.0.1", "a@b.example")))
                .hasMessageContaining("must be smtp://HOST:PORT");
        assertThatThrownBy(() -> MailServer.of(List.of("smtp://127.0.0.1", "nobody")))
                .hasMessageContaining("must be a mail address");
        assertThat(MailServer.of(List.of("smtps://mail.example:465", "a@b.example", "me", "hidden"))
                        .toString())
                .doesNotContain("hidden");
    }
}
