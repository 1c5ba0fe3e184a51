package leanladder.bench;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;

/** What a machine can do at all, to hold the figures against. */
final class Baselines {
    private static final int CHUNK = 1 << 26;
    private static final long BYTES = 2L << 30;

    private Baselines() {}

    /** Seconds to fill 2 GB of memory that was touched before, one byte a cell, on all cores; the best of five. */
    static double fill() {
        List<byte[]> chunks = new ArrayList<>();
        for (long filled = 0; filled < BYTES; filled += CHUNK) chunks.add(new byte[CHUNK]);
        double best = Double.MAX_VALUE;
        for (int run = 0; run < 6; run++) {
            byte value = (byte) run;
            long start = System.nanoTime();
            chunks.parallelStream().forEach(c -> Arrays.fill(c, value));
            double seconds = (System.nanoTime() - start) / 1e9;
            if (run > 0) best = Math.min(best, seconds);
        }
        return best;
    }
}
