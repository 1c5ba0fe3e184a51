package leanladder.server.http;

import io.javalin.http.Context;
import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.StandardOpenOption;
import java.util.concurrent.Semaphore;
import java.util.concurrent.TimeUnit;

/**
 * Writes large bodies to a temporary file first, however slowly they arrive. Then as many are processed at the same time as memory allows, by their
 * length; the others wait for a bounded time. The memory is returned when the request has been answered.
 */
final class LargeBodySpool {
    /** Of bodies; what is made of one while it is worked on takes some twenty times as much. */
    private static final int MEGABYTES =
            (int) Math.max((Limits.BATCH >> 20) + 1, Runtime.getRuntime().maxMemory() >> 26);

    private static final Semaphore MEMORY = new Semaphore(MEGABYTES, true);
    private static final int PATIENCE_SECONDS = 10;
    private static final String NAME = LargeBodySpool.class.getName();

    private LargeBodySpool() {}

    /** What one has taken. */
    private record HeldBody(InputStream body, int megabytes) {}

    /** The body of a request, whole; an ordinary one as it comes. @param most so many bytes are taken */
    static InputStream open(Context ctx, long most) throws IOException {
        InputStream coming = JsonRequestBody.bounded(ctx, most);
        long told = ctx.req().getContentLengthLong();
        if (most <= Limits.BODY || told >= 0 && told <= Limits.BODY) return coming;
        Path file = Files.createTempFile("lean-ladder", ".body");
        try {
            Files.copy(coming, file, StandardCopyOption.REPLACE_EXISTING);
            int megabytes = (int) Math.min(MEGABYTES, 1 + (Files.size(file) >> 20));
            if (!MEMORY.tryAcquire(megabytes, PATIENCE_SECONDS, TimeUnit.SECONDS)) throw busy();
            InputStream body = Files.newInputStream(file, StandardOpenOption.DELETE_ON_CLOSE);
            ctx.attribute(NAME, new HeldBody(body, megabytes));
            return body;
        } catch (InterruptedException stopping) {
            Files.deleteIfExists(file);
            throw busy();
        } catch (IOException | RuntimeException failed) {
            Files.deleteIfExists(file);
            throw failed;
        }
    }

    private static ProblemException busy() {
        return ProblemException.refused(
                503,
                "Too busy",
                "Several large bodies are being worked on at once; nothing was stored. Try again in a moment.");
    }

    /** Gives back what the body of a request has taken. */
    static void release(Context ctx) throws IOException {
        HeldBody heldBody = ctx.attribute(NAME);
        if (heldBody == null) return;
        ctx.attribute(NAME, null);
        MEMORY.release(heldBody.megabytes);
        heldBody.body.close();
    }
}
