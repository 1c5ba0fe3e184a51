package leanladder.server.health;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;

@Timeout(value = 2, unit = TimeUnit.MINUTES)
class GarbageCollectionWatchdogTest {
    /** Holds nearly all of its memory, and makes garbage for as long as it is let. */
    static final class Hoarder {
        public static void main(String[] args) {
            GarbageCollectionWatchdog.start();
            List<Object> held = new ArrayList<>();
            Runtime runtime = Runtime.getRuntime();
            while (runtime.maxMemory() - runtime.totalMemory() + runtime.freeMemory() > 700_000 || held.size() < 1000)
                held.add(new long[40]);
            for (int i = 0; ; i = (i + 1) % held.size()) held.set(i, new long[40]);
        }
    }

    @Test
    void aProcessThatDoesNothingButCollectGarbageEnds() throws Exception {
        Process process = new ProcessBuilder(
                        System.getProperty("java.home") + "/bin/java",
                        "-Xmx48m",
                        "-XX:+UseG1GC",
                        "-cp",
                        System.getProperty("java.class.path"),
                        Hoarder.class.getName())
                .redirectErrorStream(true)
                .redirectOutput(ProcessBuilder.Redirect.DISCARD)
                .start();
        try {
            assertThat(process.waitFor(60, TimeUnit.SECONDS)).isTrue();
            // Memory can run out for good before the watchdog has looked for long enough; that ends the process as
            // well.
            assertThat(process.exitValue()).isIn(GarbageCollectionWatchdog.EXIT_CODE, 1);
        } finally {
            process.destroyForcibly();
        }
    }
}
