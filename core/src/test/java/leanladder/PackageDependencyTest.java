package leanladder;

import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.noClasses;
import static org.assertj.core.api.Assertions.assertThat;

import com.tngtech.archunit.core.domain.JavaClasses;
import com.tngtech.archunit.core.importer.ClassFileImporter;
import com.tngtech.archunit.core.importer.ImportOption;
import com.tngtech.archunit.library.Architectures;
import com.tngtech.archunit.library.Architectures.LayeredArchitecture;
import java.time.Clock;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import org.junit.jupiter.api.Test;

/** Dependencies inside the core go one way, and the core has no clock. */
class PackageDependencyTest {
    private static final JavaClasses CORE = new ClassFileImporter()
            .withImportOption(new ImportOption.DoNotIncludeTests())
            .importPackages("leanladder");

    /** The packages from the lowest up, each with those that it may depend on. */
    private static final Map<String, List<String>> PACKAGES = Map.ofEntries(
            Map.entry("json", List.of()),
            Map.entry("catalogue", List.of("json")),
            Map.entry("rule", List.of("json")),
            Map.entry("estate", List.of("catalogue", "json", "rule")),
            Map.entry("estate.read", List.of("catalogue", "estate", "json", "rule")),
            Map.entry("reach", List.of("catalogue", "estate", "json", "rule")),
            Map.entry("seat", List.of("catalogue", "estate", "json", "reach")),
            Map.entry("preview", List.of("catalogue", "estate", "json", "reach")),
            Map.entry("settle", List.of("catalogue")),
            Map.entry("resolve", List.of("catalogue", "estate", "json", "preview", "reach", "seat")),
            Map.entry(
                    "workingcopy",
                    List.of("catalogue", "estate", "estate.read", "json", "reach", "resolve", "rule", "text")),
            Map.entry("edit", List.of("json", "workingcopy")),
            Map.entry("edit.catalogue", List.of("catalogue", "edit", "estate.read", "json", "workingcopy")),
            Map.entry("edit.directory", List.of("catalogue", "edit", "estate", "estate.read", "json", "workingcopy")),
            Map.entry("edit.policy", List.of("catalogue", "edit", "estate", "estate.read", "json", "workingcopy")),
            Map.entry(
                    "edit.preview",
                    List.of("catalogue", "edit", "estate", "estate.read", "json", "resolve", "workingcopy")),
            Map.entry("edit.seat", List.of("catalogue", "edit", "estate", "estate.read", "json", "workingcopy")),
            Map.entry(
                    "edit.session",
                    List.of(
                            "catalogue",
                            "edit",
                            "edit.catalogue",
                            "edit.directory",
                            "edit.policy",
                            "edit.preview",
                            "edit.seat",
                            "estate",
                            "estate.read",
                            "json",
                            "reach",
                            "resolve",
                            "workingcopy")),
            Map.entry("conflict", List.of("edit", "edit.session", "json")),
            Map.entry(
                    "ripple",
                    List.of(
                            "catalogue",
                            "edit.session",
                            "estate",
                            "json",
                            "preview",
                            "reach",
                            "resolve",
                            "seat",
                            "workingcopy")),
            Map.entry(
                    "advise",
                    List.of(
                            "catalogue",
                            "edit",
                            "edit.catalogue",
                            "edit.directory",
                            "edit.policy",
                            "edit.preview",
                            "edit.seat",
                            "edit.session",
                            "estate",
                            "estate.read",
                            "json",
                            "preview",
                            "reach",
                            "resolve",
                            "seat",
                            "workingcopy")),
            Map.entry(
                    "text",
                    List.of(
                            "advise",
                            "catalogue",
                            "edit",
                            "edit.catalogue",
                            "edit.directory",
                            "edit.policy",
                            "edit.preview",
                            "edit.seat",
                            "edit.session",
                            "estate",
                            "estate.read",
                            "json",
                            "preview",
                            "reach",
                            "resolve",
                            "seat",
                            "workingcopy")));

    @Test
    void everyPackageDependsOnlyOnThoseBelowIt() {
        LayeredArchitecture layers = Architectures.layeredArchitecture().consideringOnlyDependenciesInLayers();
        for (String name : PACKAGES.keySet()) layers = layers.layer(name).definedBy("leanladder." + name);
        for (var entry : PACKAGES.entrySet())
            layers = entry.getValue().isEmpty()
                    ? layers.whereLayer(entry.getKey()).mayNotAccessAnyLayer()
                    : layers.whereLayer(entry.getKey())
                            .mayOnlyAccessLayers(entry.getValue().toArray(String[]::new));
        layers.check(CORE);
    }

    @Test
    void everyPackageIsListed() {
        Set<String> packages = CORE.stream()
                .map(c -> c.getPackageName().replaceFirst("^leanladder\\.", ""))
                .collect(Collectors.toCollection(TreeSet::new));
        assertThat(packages).isEqualTo(new TreeSet<>(PACKAGES.keySet()));
    }

    @Test
    void theCoreKnowsNeitherDatabaseNorNetwork() {
        noClasses()
                .should()
                .dependOnClassesThat()
                .resideInAnyPackage(
                        "java.sql..", "javax.sql..", "java.net.http..", "com.sun.net..", "java.nio.channels..")
                .check(CORE);
    }

    @Test
    void theCoreHasNoClock() {
        noClasses().should().dependOnClassesThat().areAssignableTo(Clock.class).check(CORE);
        noClasses()
                .should()
                .callMethod(Instant.class, "now")
                .orShould()
                .callMethod(System.class, "currentTimeMillis")
                .check(CORE);
    }
}
