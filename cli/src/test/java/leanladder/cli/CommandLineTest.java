package leanladder.cli;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.io.ByteArrayOutputStream;
import java.io.PrintStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import leanladder.RandomEstate;
import leanladder.json.Json;
import leanladder.resolve.AccountResolver;
import leanladder.resolve.CompiledEstate;
import leanladder.resolve.EvaluationContext;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class CommandLineTest {
    private static final String SMALL = "../core/src/test/resources/small-estate.json";
    private static final String AT = "2026-11-23T12:00:00Z";

    @TempDir
    Path dir;

    private record Ran(int exitCode, String out, String err) {}

    private static Ran run(String... args) {
        PrintStream out = System.out;
        PrintStream err = System.err;
        var outBytes = new ByteArrayOutputStream();
        var errBytes = new ByteArrayOutputStream();
        try {
            System.setOut(new PrintStream(outBytes, true, StandardCharsets.UTF_8));
            System.setErr(new PrintStream(errBytes, true, StandardCharsets.UTF_8));
            int exitCode = Main.run(args);
            return new Ran(
                    exitCode, outBytes.toString(StandardCharsets.UTF_8), errBytes.toString(StandardCharsets.UTF_8));
        } finally {
            System.setOut(out);
            System.setErr(err);
        }
    }

    private Path file(JsonNode estate) throws Exception {
        return Files.writeString(dir.resolve("estate.json"), Json.write(estate));
    }

    @Test
    void resolveWritesWhatTheClimbSaysSortedAndTheSameEveryTime() throws Exception {
        for (long seed = 900; seed < 960; seed++) {
            Path file = file(RandomEstate.json(seed));
            CompiledEstate compiledEstate = new CompiledEstate(RandomEstate.read(Json.read(Files.readString(file))));
            Optional<String> workspace = compiledEstate.estate().workspaces().stream()
                    .map(w -> w.id())
                    .findFirst();
            EvaluationContext evaluationContext = new EvaluationContext(java.time.Instant.parse(AT), workspace);
            var entitlements = compiledEstate.seats(evaluationContext.at());
            StringBuilder expected = new StringBuilder();
            compiledEstate.estate().accounts().stream().filter(a -> a.active()).forEach(a -> {
                AccountResolver accountResolver =
                        new AccountResolver(compiledEstate, evaluationContext, entitlements, a);
                compiledEstate
                        .estate()
                        .catalogue()
                        .settings()
                        .values()
                        .forEach(s -> expected.append(
                                        Json.write(accountResolver.outcome(s).json(a.id(), s.key())))
                                .append('\n'));
            });
            String[] args = workspace.isPresent()
                    ? new String[] {"resolve", "--estate", file.toString(), "--at", AT, "--workspace", workspace.get()}
                    : new String[] {"resolve", "--estate", file.toString(), "--at", AT};
            Ran ran = run(args);
            assertThat(ran.exitCode()).isZero();
            assertThat(ran.out()).isEqualTo(expected.toString());
            assertThat(run(args).out()).isEqualTo(ran.out());
        }
    }

    @Test
    void csvQuotesAndEndsLinesAsRfc4180Says() {
        Ran ran = run(
                "resolve",
                "--estate",
                SMALL,
                "--at",
                AT,
                "--account",
                "a1",
                "--setting",
                "files.help",
                "--setting",
                "chat.private",
                "--format",
                "csv");
        assertThat(ran.out())
                .isEqualTo(
                        "account,setting,value,decided,standing,rung,policy,cappedBy,blockedBy,dependsOnWorkspace\r\n"
                                + "a1,chat.private,false,false,locked,person,p1,,[],true\r\n"
                                + "a1,files.help,\"\"\"https://help.skerrymore.example/\"\"\",\"\"\"https://help.skerrymore.example/\"\"\",builtin,builtin,,,[],false\r\n");
    }

    @Test
    void anInvalidFileIsToldDefectByDefectAndTheOutputFileStaysAsItWas() throws Exception {
        ObjectNode estate = (ObjectNode) Json.read(Files.readString(Path.of(SMALL)));
        ((ObjectNode) estate.at("/accounts/0")).put("unit", "no\nwhere");
        ((ObjectNode) estate.at("/plans/0")).put("seats", -1);
        Path out = Files.writeString(dir.resolve("out"), "before");
        for (String command : List.of("resolve", "check", "seats")) {
            Ran ran = command.equals("resolve")
                    ? run(command, "--estate", file(estate).toString(), "--out", out.toString())
                    : run(command, "--estate", file(estate).toString());
            assertThat(ran.exitCode()).isEqualTo(3);
            assertThat(ran.out()).isEmpty();
            assertThat(ran.err().lines())
                    .containsExactly(
                            "/accounts/0/unit: names the unit \"no\\u000awhere\", which does not exist",
                            "/plans/0/seats: must not be below 0");
        }
        assertThat(out).hasContent("before");
        try (var files = Files.list(dir)) {
            assertThat(files.map(f -> f.getFileName().toString())).containsExactlyInAnyOrder("estate.json", "out");
        }
    }

    @Test
    void whatCannotBeReadEndsWithASentenceAndExitCodeThree() throws Exception {
        Path cut = Files.writeString(
                dir.resolve("cut"), Files.readString(Path.of(SMALL)).substring(0, 900));
        for (String file : List.of(dir.resolve("gone").toString(), dir.toString(), cut.toString())) {
            Ran ran = run("check", "--estate", file);
            assertThat(ran.exitCode()).isEqualTo(3);
            assertThat(ran.err().lines()).hasSize(1);
            assertThat(ran.err()).doesNotContain("Exception");
        }
    }

    @Test
    void wrongUseEndsWithASentenceAndExitCodeTwo() {
        String[][] wrong = {
            {"resolve", "--estate", SMALL, "--account", "a9"},
            {"resolve", "--estate", SMALL, "--setting", "gone"},
            {"resolve", "--estate", SMALL, "--workspace", "w9"},
            {"resolve", "--estate", SMALL, "--at", "today"},
            {"resolve", "--estate", SMALL, "--format", "xml"},
            {"resolve", "--estate", SMALL, "--out", "/no/such/folder/out"},
            {"resolve"},
            {"explain", "--estate", SMALL, "--account", "a1"},
            {"explain", "--estate", SMALL, "--account", "a1", "--setting", "gone"},
            {"seats", "--estate", SMALL, "--plan", "l9"},
            {"fly"},
        };
        for (String[] args : wrong) {
            Ran ran = run(args);
            assertThat(ran.exitCode()).as(String.join(" ", args)).isEqualTo(2);
            assertThat(ran.out()).isEmpty();
            assertThat(ran.err()).isNotEmpty().doesNotContain("Exception");
        }
    }

    @Test
    void anInactiveAccountHasNothingToExplain() throws Exception {
        ObjectNode estate = (ObjectNode) Json.read(Files.readString(Path.of(SMALL)));
        ((ObjectNode) estate.at("/accounts/1")).put("active", false);
        Path file = file(estate);
        Ran explained = run("explain", "--estate", file.toString(), "--account", "a2", "--setting", "chat.private");
        assertThat(explained.exitCode()).isEqualTo(2);
        assertThat(explained.err()).contains("inactive");
        Ran resolved = run("resolve", "--estate", file.toString(), "--account", "a2");
        assertThat(resolved.exitCode()).isZero();
        assertThat(resolved.out()).isEmpty();
    }

    @Test
    void explainTellsTheClimbAsJsonAndAsSentences() {
        Ran json = run(
                "explain",
                "--estate",
                SMALL,
                "--at",
                AT,
                "--account",
                "a2",
                "--setting",
                "chat.private",
                "--format",
                "json");
        assertThat(json.out())
                .isEqualTo(
                        "{\"outcome\":{\"account\":\"a2\",\"setting\":\"chat.private\",\"value\":false,\"decided\":false,\"standing\":\"locked\",\"rung\":\"unit\","
                                + "\"policy\":\"p1\",\"cappedBy\":null,\"blockedBy\":[],\"dependsOnWorkspace\":true},\"climb\":[{\"policy\":\"p1\",\"rung\":\"unit\",\"via\":[\"unit:u2\"],"
                                + "\"says\":\"set\",\"value\":false,\"lock\":true,\"verdict\":\"decides\"}],\"follows\":null,\"gates\":[]}\n");
        Ran text = run("explain", "--estate", SMALL, "--at", AT, "--account", "a2", "--setting", "chat.private");
        assertThat(text.out())
                .startsWith(
                        "No. Start private chats is off for Tobin. Quiet bridge turned it off, and locked it, for Fleet.");
    }

    @Test
    void arrivalsAreToldByInstant() {
        Ran ran = run("arrivals", "--estate", SMALL, "--at", "2026-11-10T00:00:00Z");
        assertThat(ran.out())
                .isEqualTo(
                        "{\"at\":\"2026-11-01T00:00:00Z\",\"setting\":\"meet.captions\",\"ring\":\"dry-dock\",\"planned\":false}\n"
                                + "{\"at\":\"2026-11-20T00:00:00Z\",\"setting\":\"meet.captions\",\"to\":\"group:g1\",\"planned\":false}\n");
        assertThat(run("arrivals", "--estate", SMALL, "--at", "2026-06-01T00:00:00Z")
                        .out())
                .isEmpty();
    }

    @Test
    void seatsAreToldByPlan() {
        Ran ran = run("seats", "--estate", SMALL, "--at", AT);
        assertThat(ran.out()).isEqualTo("{\"plan\":\"l1\",\"seated\":[\"a1\"],\"waiting\":[],\"released\":[]}\n");
        Ran causes = run("seats", "--estate", SMALL, "--at", AT, "--causes");
        assertThat(causes.out())
                .contains("\"causes\":[{\"account\":\"a1\",\"rule\":1,\"includes\":\"unit:u2\",\"granted\":");
    }
}
