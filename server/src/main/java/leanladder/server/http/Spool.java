package leanladder.server.http;

import java.io.BufferedOutputStream;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.concurrent.Semaphore;

/**
 * Writes long answers to a file of its own first, so that what they are read from, such as a connection to the database, is free again
 * before anybody starts to take them, however slowly. Few are written at once. The file can be read by this program's user alone, and
 * goes when the answer has gone.
 */
final class Spool {
    private static final int AT_ONCE = 2;
    private static final Semaphore TURNS = new Semaphore(AT_ONCE, true);
    private static final int BUFFER = 1 << 16;

    private Spool() {}

    /** Sends what a stream writes. Nothing is sent where that fails. */
    static void send(Answer.Stream stream, OutputStream to) throws IOException {
        Path file = Files.createTempFile("lean-ladder", ".json");
        try {
            TURNS.acquireUninterruptibly();
            try (OutputStream out = new BufferedOutputStream(Files.newOutputStream(file), BUFFER)) {
                stream.writeTo(out);
            } finally {
                TURNS.release();
            }
            Files.copy(file, to);
        } finally {
            Files.deleteIfExists(file);
        }
    }
}
