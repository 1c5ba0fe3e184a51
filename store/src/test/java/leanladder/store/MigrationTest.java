package leanladder.store;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.util.Arrays;
import java.util.stream.Stream;
import leanladder.json.Json;
import leanladder.store.entities.StoredEntity;
import org.flywaydb.core.Flyway;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

/** A database that an earlier version wrote is read as before. */
class MigrationTest {
    @Test
    void holdersThatStoodInPlansStandInTheLedger() throws Exception {
        ThrowAwayPostgres postgres = ThrowAwayPostgres.get();
        String url = postgres.newDatabase("store_migrated");
        Flyway.configure()
                .dataSource(url, postgres.user(), postgres.password())
                .target("4")
                .load()
                .migrate();
        ObjectNode file =
                (ObjectNode) Json.read(Files.readString(Path.of("../core/src/test/resources/small-estate.json")));
        JsonNode holder = file.at("/plans/0/holders/0");
        ((ObjectNode) holder).put("remark", "came with the file");
        try (Connection db = DriverManager.getConnection(url, postgres.user(), postgres.password())) {
            db.createStatement()
                    .execute(
                            "insert into change (number, at, author, proven, note, edits) values (1, now(), 'Ivo Tarn', false, '',"
                                    + " '[{\"kind\":\"replace-estate\"}]')");
            for (StoredEntity part : StoreTest.parts(file)) {
                String body = part.section().equals("plans") ? Json.write(file.at("/plans/0")) : part.body();
                for (String table : new String[] {"part (since,", "carried (number,"}) {
                    var insert = db.prepareStatement(
                            "insert into " + table + " section, key, body) values (1, ?, ?, ?::json)");
                    insert.setString(1, part.section());
                    insert.setString(2, part.key());
                    insert.setString(3, body);
                    insert.execute();
                }
            }
        }
        try (Store store = new Store(url, postgres.user(), postgres.password())) {
            assertThat(StoreTest.sorted(StoreTest.export(store))).isEqualTo(StoreTest.sorted(file));
            assertThat(store.parts().part("plans", "l1").orElseThrow().has("holders"))
                    .isFalse();
            assertThat(store.seats().movedBy(1)).hasSize(1);
            assertThat(store.parts().read(1).estate().holders().get("l1")).hasSize(1);
            try (Store anew = postgres.newStore("store_migrated_replayed")) {
                Replay.all(store, anew);
                assertThat(anew.seats().movedBy(1))
                        .extracting(m -> m.account())
                        .contains(holder.get("account").asText());
            }
        }
    }

    @Test
    void tablesThatANewerProgramAlteredAreRefusedAndLeftAlone() throws Exception {
        ThrowAwayPostgres postgres = ThrowAwayPostgres.get();
        String url = postgres.newDatabase("store_newer");
        new Store(url, postgres.user(), postgres.password()).close();
        try (Connection db = DriverManager.getConnection(url, postgres.user(), postgres.password())) {
            db.createStatement()
                    .execute(
                            "insert into flyway_schema_history (installed_rank, version, description, type, script, checksum, installed_by,"
                                    + " execution_time, success) values (999, '999', 'later', 'SQL', 'V999__later.sql', 1, 'x', 1, true)");
        }
        assertThatThrownBy(() -> new Store(url, postgres.user(), postgres.password()))
                .hasMessageContaining("altered by a newer Lean Ladder")
                .hasMessageContaining("version 999");
    }

    /** Every version that tables ever had. */
    static Stream<String> versions() {
        return Arrays.stream(Flyway.configure()
                        .dataSource(
                                ThrowAwayPostgres.get().newDatabase("store_versions"),
                                ThrowAwayPostgres.get().user(),
                                ThrowAwayPostgres.get().password())
                        .load()
                        .info()
                        .all())
                .map(m -> m.getVersion().getVersion());
    }

    @ParameterizedTest
    @MethodSource("versions")
    void tablesOfEveryEarlierVersionAreBroughtUpToDateAndTakeAnEstate(String version) throws Exception {
        ThrowAwayPostgres postgres = ThrowAwayPostgres.get();
        String url = postgres.newDatabase("store_from_" + version.replace('.', '_'));
        Flyway.configure()
                .dataSource(url, postgres.user(), postgres.password())
                .target(version)
                .load()
                .migrate();
        JsonNode file = Json.read(Files.readString(Path.of("../core/src/test/resources/small-estate.json")));
        try (Store store = new Store(url, postgres.user(), postgres.password())) {
            store.parts()
                    .replace(
                            StoreTest.writeRequest(),
                            0,
                            StoreTest.entry("The first"),
                            StoreTest.parts(file).stream(),
                            StoreTest.seats(file));
            assertThat(store.parts().read(1).estate().accounts())
                    .hasSize(file.get("accounts").size());
        }
    }
}
