package leanladder.server;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import java.util.TreeSet;
import java.util.concurrent.TimeUnit;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import leanladder.demo.DemoEstate;
import leanladder.edit.EditKind;
import leanladder.edit.session.EditKinds;
import leanladder.json.Json;
import leanladder.store.ThrowAwayPostgres;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** The pages in docs/ speak of what there is. */
@Timeout(value = 2, unit = TimeUnit.MINUTES)
class DocumentationTest {
    private static final Path ROOT = Path.of("..");
    private static final Pattern CODE = Pattern.compile("`([A-Z][A-Za-z]+(?:\\.[A-Z][A-Za-z]+)*)`");
    private static final Set<String> OF_OTHERS = Set.of(
            "QoSHandler",
            "DelayedHandler",
            "UntilContent",
            "EagerContentHandler",
            "SizeLimitHandler",
            "DoSHandler",
            "HttpConfiguration",
            "ConnectionLimit",
            "Optional",
            "KIND");

    private static String page(String name) throws IOException {
        return Files.readString(ROOT.resolve("docs").resolve(name));
    }

    private static List<String> sources() throws IOException {
        List<String> sources = new ArrayList<>();
        for (String module : List.of("core", "store", "server", "suite", "cli", "demo"))
            try (Stream<Path> files = Files.walk(ROOT.resolve(module).resolve("src"))) {
                for (Path file :
                        files.filter(f -> f.toString().endsWith(".java")).toList()) sources.add(Files.readString(file));
            }
        return sources;
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "glossary.md",
                "norm-map.md",
                "architecture.md",
                "debugging.md",
                "carrying-on.md",
                "decisions/0005-conflicts-are-shown.md",
                "decisions/0006-rebase-outside.md",
                "decisions/0007-background-tasks.md",
                "decisions/0009-overload-protection.md",
                "decisions/0010-schemas-and-csv.md"
            })
    void everyClassThatAPageNamesExists(String page) throws IOException {
        String all = String.join("\n", sources());
        List<String> unknown = new ArrayList<>();
        Matcher named = CODE.matcher(page(page));
        while (named.find())
            for (String part : named.group(1).split("\\."))
                if (!OF_OTHERS.contains(part)
                        && !Pattern.compile("\\b(class|record|interface|enum|@interface) " + part + "\\b")
                                .matcher(all)
                                .find()) unknown.add(part);
        assertThat(unknown).isEmpty();
    }

    @Test
    void theArchitectureNamesEveryPackage() throws IOException {
        String architecture = page("architecture.md");
        Set<String> packages = new TreeSet<>();
        for (String module : List.of("core", "store", "server")) {
            Path root = ROOT.resolve(module).resolve("src/main/java/leanladder");
            Path base = module.equals("core") ? root : root.resolve(module);
            try (Stream<Path> files = Files.walk(base)) {
                files.filter(f -> f.toString().endsWith(".java"))
                        .map(f -> base.relativize(f.getParent()).toString().replace('/', '.'))
                        .filter(p -> !p.isEmpty())
                        .forEach(packages::add);
            }
        }
        assertThat(packages).allSatisfy(p -> assertThat(architecture).contains("`" + p + "`"));
    }

    @Test
    void theTableOfEditsHasEveryKindAndNoOther() throws IOException {
        String page = page("rest.md");
        String text = page.substring(page.indexOf("| edit | members"), page.indexOf("When the base has moved"));
        Set<String> told = new TreeSet<>();
        Matcher code = Pattern.compile("`([a-z]+(?:-[a-z]+)+|batch)`").matcher(text);
        while (code.find()) told.add(code.group(1));
        Set<String> kinds = EditKinds.all().stream().map(EditKind::name).collect(Collectors.toSet());
        assertThat(told).containsExactlyInAnyOrderElementsOf(kinds);
    }

    @Test
    void theExamplesOfTheRestPageDoWhatThePageSays() throws Exception {
        try (RunningServer server = RunningServer.start(
                ThrowAwayPostgres.get(),
                "documentation_test",
                Path.of("no-web"),
                Json.write(new DemoEstate().build()))) {
            List<String> examples = new ArrayList<>();
            StringBuilder block = new StringBuilder();
            for (String line : (page("rest.md") + "\nend").split("\n"))
                if (line.startsWith("    ")) block.append(line.substring(4)).append('\n');
                else if (!block.isEmpty()) {
                    examples.add(block.toString());
                    block.setLength(0);
                }
            assertThat(examples).hasSizeGreaterThanOrEqualTo(3);
            for (String example : examples) {
                String[] call = example.lines()
                        .findFirst()
                        .orElseThrow()
                        .replaceAll("\\[[^\\]]*\\]", "")
                        .split(" ");
                String body = example.lines().skip(1).collect(Collectors.joining("\n"));
                JsonNode session = Json.read(server.get("/api/v1/session").body());
                var response = server.send(
                        call[0],
                        call[1].replace(
                                "2026-11-20T00:00:00Z", session.get("now").asText()),
                        body.replaceFirst("\"base\": \\d+", "\"base\": " + session.get("change")),
                        "Authorization",
                        "Bearer " + RunningServer.SECRET);
                assertThat(response.statusCode()).as(example + response.body()).isIn(200, 201);
            }
        }
    }
}
