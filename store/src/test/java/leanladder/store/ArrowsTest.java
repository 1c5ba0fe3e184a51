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
class ArrowsTest {
    private static final JavaClasses STORE = new ClassFileImporter()
            .withImportOption(new ImportOption.DoNotIncludeTests())
            .importPackages("leanladder.store");

    /** The rooms, each with those that it may look into. */
    private static final Map<String, List<String>> ROOMS = Map.of(
            "db", List.of(),
            "journal", List.of("db", "checks", "mail"),
            "seats", List.of("db"),
            "parts", List.of("db", "journal", "seats"),
            "drafts", List.of("db"),
            "calendars", List.of("db"),
            "requests", List.of("db"),
            "checks", List.of("db"),
            "mail", List.of("db"),
            "watch", List.of("db"));

    @Test
    void everyRoomLooksOnlyIntoThoseBelowIt() {
        var rooms = Architectures.layeredArchitecture().consideringOnlyDependenciesInLayers();
        for (String room : ROOMS.keySet()) rooms = rooms.layer(room).definedBy("leanladder.store." + room);
        rooms = rooms.layer("store").definedBy("leanladder.store");
        for (var room : ROOMS.entrySet())
            rooms = room.getValue().isEmpty()
                    ? rooms.whereLayer(room.getKey()).mayNotAccessAnyLayer()
                    : rooms.whereLayer(room.getKey())
                            .mayOnlyAccessLayers(room.getValue().toArray(String[]::new));
        rooms.check(STORE);
    }

    @Test
    void noClassStandsOutsideTheRooms() {
        assertThat(STORE.stream()
                        .map(c -> c.getPackageName().replaceFirst("^leanladder\\.store\\.?", ""))
                        .filter(p -> !p.isEmpty())
                        .collect(Collectors.toSet()))
                .isEqualTo(ROOMS.keySet());
    }
}
