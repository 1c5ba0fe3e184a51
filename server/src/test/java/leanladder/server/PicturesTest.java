package leanladder.server;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import leanladder.estate.read.PictureContent;
import leanladder.json.Json;
import leanladder.store.Replay;
import leanladder.store.Store;
import leanladder.store.ThrowAwayPostgres;
import leanladder.store.db.WriteRequest;
import leanladder.store.entities.PictureTable;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** Pictures from the upload to the export: stored first, named by an edit, kept for the past, left out where nothing names them. */
class PicturesTest {
    private static final String DRAWN =
            "<svg xmlns='http://www.w3.org/2000/svg' viewBox='0 0 8 8'>%s<path d='M0 0h8v8z'/></svg>";

    private static final String SETTING = "directory.sign-in-picture";
    private static final Instant NOW = RunningServer.DEMO_NOW;

    private final HttpClient client = HttpClient.newHttpClient();
    private RunningServer server;

    @BeforeEach
    void start() throws Exception {
        server = RunningServer.startDemo("pictures_test");
    }

    @AfterEach
    void stop() {
        server.close();
    }

    private HttpResponse<String> send(byte[] content, String key) throws Exception {
        return client.send(
                HttpRequest.newBuilder(URI.create(server.address() + "/api/v1/pictures"))
                        .header("Idempotency-Key", key)
                        .POST(HttpRequest.BodyPublishers.ofByteArray(content))
                        .build(),
                HttpResponse.BodyHandlers.ofString());
    }

    private static byte[] svg(String inside) {
        return String.format(DRAWN, inside).getBytes(StandardCharsets.UTF_8);
    }

    @Test
    void aPictureIsStoredNamedAndExportedUntilNothingNamesIt() throws Exception {
        HttpResponse<String> stored = send(svg("<title>House flag</title>"), "one");
        assertThat(stored.statusCode()).as(stored.body()).isEqualTo(201);
        String sha256 = Json.read(stored.body()).get("sha256").asText();
        assertThat(send(svg("<title>House flag</title>"), "one").body()).isEqualTo(stored.body());
        assertThat(server.json("estate").get("media").has(sha256)).isFalse();

        String value = "{'sha256':'" + sha256 + "','media':'image/svg+xml','alt':'House flag'}";
        assertThat(server.publish("{'kind':'put-statement','policy':'safety-first','statement':{'setting':'" + SETTING
                                + "','set':" + value + "}}")
                        .statusCode())
                .isLessThan(300);
        assertThat(server.json("estate").get("media").has(sha256)).isTrue();
        assertThat(server.get("/api/v1/pictures/" + sha256).body()).contains("<title>House flag</title>");
        assertThat(server.json("climb?account=mirela.osk&setting=" + SETTING)
                        .get("outcome")
                        .get("value")
                        .get("sha256")
                        .asText())
                .isEqualTo(sha256);

        assertThat(server.publish("{'kind':'remove-statement','policy':'safety-first','setting':'" + SETTING
                                + "','says':'set'}")
                        .statusCode())
                .isLessThan(300);
        assertThat(server.json("estate").get("media").has(sha256)).isFalse();
        assertThat(server.get("/api/v1/pictures/" + sha256).statusCode()).isEqualTo(200);
    }

    @Test
    void whatTheJournalBuildsAgainHoldsTheSamePictures() throws Exception {
        String sha256 = Json.read(send(svg("<title>House flag</title>"), "one").body())
                .get("sha256")
                .asText();
        String value = "{'sha256':'" + sha256 + "','media':'image/svg+xml','alt':''}";
        assertThat(server.publish("{'kind':'put-statement','policy':'safety-first','statement':{'setting':'" + SETTING
                                + "','set':" + value + "}}")
                        .statusCode())
                .isLessThan(300);
        try (Store rebuilt = ThrowAwayPostgres.get().newStore("pictures_rebuilt")) {
            Replay.all(server.store(), rebuilt);
            assertThat(exported(rebuilt)).isEqualTo(exported(server.store()));
            assertThat(exported(rebuilt).get("media").has(sha256)).isTrue();
        }
    }

    private static JsonNode exported(Store store) throws IOException {
        ByteArrayOutputStream file = new ByteArrayOutputStream();
        store.parts().export(file);
        return Json.read(file.toString(StandardCharsets.UTF_8));
    }

    @Test
    void aStateOfAFamilyKeepsItsPictureInTheExport() throws Exception {
        String sha256 = Json.read(send(svg("<title>Pennant</title>"), "one").body())
                .get("sha256")
                .asText();
        JsonNode families = server.json("estate").at("/catalogue/families").deepCopy();
        ((ObjectNode) families.at("/0/states/0/values"))
                .putObject(SETTING)
                .put("sha256", sha256)
                .put("media", "image/svg+xml")
                .put("alt", "");
        HttpResponse<String> published =
                server.post("{\"base\":" + server.json("session").get("change")
                        + ",\"edits\":[{\"kind\":\"amend-catalogue\",\"members\":{\"families\":" + families + "}}]}");
        assertThat(published.statusCode()).as(published.body()).isLessThan(300);
        assertThat(server.json("estate").get("media").has(sha256)).isTrue();
    }

    @Test
    void anUnusedPictureIsRemovedAfterAMonthUnlessItIsSentAgain() {
        PictureTable pictures = server.store().pictures();
        Instant longAgo = NOW.minus(PictureTable.UNUSED).minusSeconds(1);
        byte[] left = svg("<title>Left</title>");
        byte[] again = svg("<title>Again</title>");
        pictures.put(WriteRequest.by("test", longAgo), left);
        pictures.put(WriteRequest.by("test", longAgo), again);
        pictures.put(WriteRequest.by("test", NOW), again);
        pictures.removeUnused(NOW);
        assertThat(pictures.has(PictureContent.sha256(left))).isFalse();
        assertThat(pictures.has(PictureContent.sha256(again))).isTrue();
        // That of the sign-in page is named by the catalogue.
        assertThat(server.json("estate").get("media")).isNotEmpty();
    }

    @Test
    void anSvgIsStoredWithoutWhatDoesNotDraw() throws Exception {
        HttpResponse<String> stored = send(
                svg(
                        "<script>alert(1)</script><a href='https://elsewhere.example'><rect onclick='go()' width='2' height='2'/></a>"),
                "unsafe");
        assertThat(stored.statusCode()).as(stored.body()).isEqualTo(201);
        String drawn = server.get("/api/v1/pictures/"
                        + Json.read(stored.body()).get("sha256").asText())
                .body();
        assertThat(drawn)
                .doesNotContain("script")
                .doesNotContain("onclick")
                .doesNotContain("elsewhere")
                .contains("viewBox=\"0 0 8 8\"")
                .contains("<rect")
                .contains("d=\"M0 0h8v8z\"");
    }

    @Test
    void whatCannotBeAPictureIsRefusedWithASentence() throws Exception {
        assertThat(send("GIF89a".getBytes(StandardCharsets.US_ASCII), "gif").body())
                .contains("The picture is not PNG, JPEG, WebP or SVG. Nothing was stored.");
        assertThat(send(svg("<style>path{fill:url(https://elsewhere.example/x)}</style>"), "style")
                        .body())
                .contains("a style that loads something");
        byte[] large = new byte[300 * 1024];
        byte[] png = {(byte) 0x89, 'P', 'N', 'G', '\r', '\n', 0x1a, '\n'};
        System.arraycopy(png, 0, large, 0, png.length);
        assertThat(send(large, "large").body()).contains("has more than 256 KB");
        String unknown = "{'sha256':'" + "0".repeat(64) + "','media':'image/png','alt':''}";
        assertThat(server.publish("{'kind':'put-statement','policy':'safety-first','statement':{'setting':'" + SETTING
                                + "','set':" + unknown + "}}")
                        .body())
                .contains("whose content is missing");
    }
}
