package leanladder.store;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import leanladder.document.Json;
import leanladder.store.parts.StoredPart;

/** Publishes one estate and the other in turn, as fast as it can, until it is killed. */
public final class KilledPublisher {
    private KilledPublisher() {}

    public static void main(String[] args) throws Exception {
        List<StoredPart> one = StoreTest.parts(Json.read(Files.readString(Path.of(args[3]))));
        List<StoredPart> other = StoreTest.parts(Json.read(Files.readString(Path.of(args[4]))));
        try (Store store = new Store(args[0], args[1], args[2])) {
            for (long base = store.journal().latest(); ; ) {
                base = store.parts()
                        .replace(
                                StoreTest.request(),
                                base,
                                StoreTest.entry("change after " + base),
                                (base % 2 == 0 ? one : other).stream(),
                                leanladder.store.parts.PartTable.Seats::none);
                System.out.println("published");
            }
        }
    }
}
