package leanladder.server;

import static org.assertj.core.api.Assertions.assertThat;

import com.tngtech.archunit.core.domain.JavaClasses;
import com.tngtech.archunit.core.importer.ClassFileImporter;
import com.tngtech.archunit.core.importer.ImportOption;
import com.tngtech.archunit.library.Architectures;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import org.junit.jupiter.api.Test;

/** The dependency arrows inside the server go one way, and its features never look into one another. */
class PackageDependencyTest {
    private static final JavaClasses SERVER = new ClassFileImporter()
            .withImportOption(new ImportOption.DoNotIncludeTests())
            .importPackages("leanladder.server");

    /** What every feature may depend on. */
    private static final List<String> BELOW = List.of(
            "http",
            "http.description",
            "access",
            "csvimport",
            "paging",
            "state",
            "draft",
            "query",
            "today",
            "mail",
            "usage");

    /** The packages, each with those that it may depend on; the server itself, on top, wires them. */
    private static final Map<String, List<String>> PACKAGES = Map.ofEntries(
            Map.entry("http", List.of()),
            Map.entry("http.description", List.of("http")),
            Map.entry("http.protection", List.of("http")),
            Map.entry("health", List.of("http", "state")),
            Map.entry("access", List.of("http")),
            Map.entry("csvimport", List.of("http")),
            Map.entry("paging", List.of("http")),
            Map.entry("state", List.of("http", "http.description", "http.protection", "paging")),
            Map.entry("usage", List.of("http", "access", "query", "state")),
            Map.entry("draft", List.of("http", "http.description", "access", "paging", "query", "state", "usage")),
            Map.entry("query", List.of("http", "state")),
            Map.entry("mail", List.of("state", "query", "today")),
            Map.entry("today", List.of("http", "state", "draft", "query")),
            Map.entry("explain", BELOW),
            Map.entry("matrix", BELOW),
            Map.entry("directory", BELOW),
            Map.entry("catalogue", BELOW),
            Map.entry("files", BELOW),
            Map.entry("logbook", BELOW),
            Map.entry("policy", BELOW),
            Map.entry("preview", BELOW),
            Map.entry("check", BELOW),
            Map.entry("request", BELOW),
            Map.entry("search", BELOW),
            Map.entry("seat", BELOW),
            Map.entry("suite", BELOW));

    @Test
    void everyPackageDependsOnlyOnThoseBelowIt() {
        var layers = Architectures.layeredArchitecture().consideringOnlyDependenciesInLayers();
        for (String name : PACKAGES.keySet()) layers = layers.layer(name).definedBy("leanladder.server." + name);
        layers = layers.layer("server").definedBy("leanladder.server");
        for (var entry : PACKAGES.entrySet())
            layers = entry.getValue().isEmpty()
                    ? layers.whereLayer(entry.getKey()).mayNotAccessAnyLayer()
                    : layers.whereLayer(entry.getKey())
                            .mayOnlyAccessLayers(entry.getValue().toArray(String[]::new));
        layers.check(SERVER);
    }

    @Test
    void everyPackageIsListed() {
        assertThat(SERVER.stream()
                        .map(c -> c.getPackageName().replaceFirst("^leanladder\\.server\\.?", ""))
                        .filter(p -> !p.isEmpty())
                        .collect(Collectors.toSet()))
                .isEqualTo(PACKAGES.keySet());
    }
}
