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

/** The dependency arrows inside the core go one way, and the core has no clock. */
class ArrowsTest {
    private static final JavaClasses CORE = new ClassFileImporter()
            .withImportOption(new ImportOption.DoNotIncludeTests())
            .importPackages("leanladder");

    /** The rooms from the lowest up, each with those that it may look into. */
    private static final Map<String, List<String>> ROOMS = Map.ofEntries(
            Map.entry("document", List.of()),
            Map.entry("catalogue", List.of("document")),
            Map.entry("estate", List.of("document", "catalogue")),
            Map.entry("estate.read", List.of("document", "catalogue", "estate")),
            Map.entry("reach", List.of("document", "catalogue", "estate")),
            Map.entry("seat", List.of("document", "catalogue", "estate", "reach")),
            Map.entry("preview", List.of("document", "catalogue", "estate", "reach")),
            Map.entry("settle", List.of("catalogue")),
            Map.entry("resolve", List.of("document", "catalogue", "estate", "reach", "seat", "preview")),
            Map.entry(
                    "advise",
                    List.of(
                            "document",
                            "catalogue",
                            "estate",
                            "reach",
                            "seat",
                            "preview",
                            "resolve",
                            "tell",
                            "change",
                            "change.overlay",
                            "change.policy",
                            "change.preview",
                            "change.seat")),
            Map.entry("tell", List.of("document", "catalogue", "estate", "reach", "seat", "preview", "resolve")),
            Map.entry(
                    "change.overlay",
                    List.of("document", "catalogue", "estate", "estate.read", "reach", "resolve", "tell")),
            Map.entry(
                    "change.policy",
                    List.of("document", "catalogue", "estate", "estate.read", "tell", "change.overlay")),
            Map.entry(
                    "change.directory",
                    List.of("document", "catalogue", "estate", "estate.read", "tell", "change.overlay")),
            Map.entry(
                    "change.preview",
                    List.of("document", "catalogue", "estate", "estate.read", "tell", "change.overlay", "resolve")),
            Map.entry(
                    "change.seat", List.of("document", "catalogue", "estate", "estate.read", "tell", "change.overlay")),
            Map.entry(
                    "change",
                    List.of(
                            "document",
                            "catalogue",
                            "estate",
                            "estate.read",
                            "reach",
                            "seat",
                            "preview",
                            "resolve",
                            "tell",
                            "change.overlay",
                            "change.policy",
                            "change.seat",
                            "change.preview",
                            "change.directory")));

    @Test
    void everyRoomLooksOnlyIntoThoseBelowIt() {
        LayeredArchitecture rooms = Architectures.layeredArchitecture().consideringOnlyDependenciesInLayers();
        for (String room : ROOMS.keySet()) rooms = rooms.layer(room).definedBy("leanladder." + room);
        for (var room : ROOMS.entrySet())
            rooms = room.getValue().isEmpty()
                    ? rooms.whereLayer(room.getKey()).mayNotAccessAnyLayer()
                    : rooms.whereLayer(room.getKey())
                            .mayOnlyAccessLayers(room.getValue().toArray(String[]::new));
        rooms.check(CORE);
    }

    @Test
    void noClassStandsOutsideTheRooms() {
        Set<String> packages = CORE.stream()
                .map(c -> c.getPackageName().replaceFirst("^leanladder\\.", ""))
                .collect(Collectors.toCollection(TreeSet::new));
        assertThat(packages).isEqualTo(new TreeSet<>(ROOMS.keySet()));
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
