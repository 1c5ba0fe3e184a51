package leanladder.store;

import static org.assertj.core.api.Assertions.assertThat;

import com.tngtech.archunit.core.domain.JavaClasses;
import com.tngtech.archunit.core.importer.ClassFileImporter;
import com.tngtech.archunit.core.importer.ImportOption;
import com.tngtech.archunit.library.Architectures;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import org.junit.jupiter.api.Test;

/** The dependency arrows inside the store go one way. */
class PackageDependencyTest {
    private static final JavaClasses STORE = new ClassFileImporter()
            .withImportOption(new ImportOption.DoNotIncludeTests())
            .importPackages("leanladder.store");

    /** The packages, each with those that it may depend on. */
    private static final Map<String, List<String>> PACKAGES = Map.ofEntries(
            Map.entry("schema", List.of()),
            Map.entry("db", List.of("schema")),
            Map.entry("journal", List.of("db", "schema", "checks", "mail", "seats")),
            Map.entry("seats", List.of("db", "schema")),
            Map.entry("entities", List.of("db", "schema", "journal", "seats")),
            Map.entry("drafts", List.of("db", "schema")),
            Map.entry("calendars", List.of("db", "schema")),
            Map.entry("requests", List.of("db", "schema")),
            Map.entry("checks", List.of("db", "schema")),
            Map.entry("mail", List.of("db", "schema")),
            Map.entry("usage", List.of("db", "schema")),
            Map.entry("cluster", List.of("db")));

    @Test
    void everyPackageDependsOnlyOnThoseBelowIt() {
        var layers = Architectures.layeredArchitecture().consideringOnlyDependenciesInLayers();
        for (String name : PACKAGES.keySet())
            layers = layers.layer(name).definedBy("leanladder.store." + name + (name.equals("schema") ? ".." : ""));
        layers = layers.layer("store").definedBy("leanladder.store");
        for (var entry : PACKAGES.entrySet())
            layers = entry.getValue().isEmpty()
                    ? layers.whereLayer(entry.getKey()).mayNotAccessAnyLayer()
                    : layers.whereLayer(entry.getKey())
                            .mayOnlyAccessLayers(entry.getValue().toArray(String[]::new));
        layers.check(STORE);
    }

    @Test
    void everyPackageIsListed() {
        // Of what is generated, all packages count as one.
        assertThat(STORE.stream()
                        .map(c -> c.getPackageName()
                                .replaceFirst("^leanladder\\.store\\.?", "")
                                .replaceFirst("^schema.*", "schema"))
                        .filter(p -> !p.isEmpty())
                        .collect(Collectors.toSet()))
                .isEqualTo(PACKAGES.keySet());
    }
}
