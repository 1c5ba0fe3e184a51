package leanladder.suite;

import java.nio.charset.StandardCharsets;
import java.util.zip.CRC32;

/** A fraction from 0 to less than 1 that is fixed by two words and otherwise as good as thrown. */
final class RolloutFraction {
    private static final double ALL = 1L << 32;

    private RolloutFraction() {}

    static double compute(String one, String other) {
        CRC32 sum = new CRC32();
        sum.update((one + "\n" + other).getBytes(StandardCharsets.UTF_8));
        return sum.getValue() / ALL;
    }
}
