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
class ArrowsTest {
    private static final JavaClasses SERVER = new ClassFileImporter()
            .withImportOption(new ImportOption.DoNotIncludeTests())
            .importPackages("leanladder.server");

    /** What every feature may look into. */
    private static final List<String> BELOW =
            List.of("http", "access", "lines", "list", "live", "draft", "today", "mail");

    /** The rooms, each with those that it may look into; the server itself, on top, lists them. */
    private static final Map<String, List<String>> ROOMS = Map.ofEntries(
            Map.entry("http", List.of()),
            Map.entry("health", List.of("http", "live")),
            Map.entry("access", List.of("http")),
            Map.entry("lines", List.of("http")),
            Map.entry("list", List.of("http")),
            Map.entry("live", List.of("http", "list")),
            Map.entry("draft", List.of("http", "access", "list", "live")),
            Map.entry("mail", List.of("live", "draft", "today")),
            Map.entry("today", List.of("http", "live", "draft")),
            Map.entry("answer", BELOW),
            Map.entry("directory", BELOW),
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
    void everyRoomLooksOnlyIntoThoseBelowIt() {
        var rooms = Architectures.layeredArchitecture().consideringOnlyDependenciesInLayers();
        for (String room : ROOMS.keySet()) rooms = rooms.layer(room).definedBy("leanladder.server." + room);
        rooms = rooms.layer("server").definedBy("leanladder.server");
        for (var room : ROOMS.entrySet())
            rooms = room.getValue().isEmpty()
                    ? rooms.whereLayer(room.getKey()).mayNotAccessAnyLayer()
                    : rooms.whereLayer(room.getKey())
                            .mayOnlyAccessLayers(room.getValue().toArray(String[]::new));
        rooms.check(SERVER);
    }

    @Test
    void noClassStandsOutsideTheRooms() {
        assertThat(SERVER.stream()
                        .map(c -> c.getPackageName().replaceFirst("^leanladder\\.server\\.?", ""))
                        .filter(p -> !p.isEmpty())
                        .collect(Collectors.toSet()))
                .isEqualTo(ROOMS.keySet());
    }
}
