package leanladder.store;

import com.fasterxml.jackson.databind.JsonNode;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import leanladder.json.Json;
import leanladder.store.entities.StoredEntity;

/** Publishes one estate and the other in turn, as fast as it can, until it is killed. */
public final class KilledPublisher {
    private KilledPublisher() {}

    public static void main(String[] args) throws Exception {
        JsonNode one = Json.read(Files.readString(Path.of(args[3])));
        JsonNode other = Json.read(Files.readString(Path.of(args[4])));
        List<StoredEntity> oneParts = StoreTest.parts(one);
        List<StoredEntity> otherParts = StoreTest.parts(other);
        var oneSeats = StoreTest.seats(one);
        var otherSeats = StoreTest.seats(other);
        try (Store store = new Store(args[0], args[1], args[2])) {
            for (long base = store.journal().latest(); ; ) {
                base = store.parts()
                        .replace(
                                StoreTest.writeRequest(),
                                base,
                                StoreTest.entry("change after " + base),
                                (base % 2 == 0 ? oneParts : otherParts).stream(),
                                base % 2 == 0 ? oneSeats : otherSeats)
                        .number();
                System.out.println("published");
            }
        }
    }
}
