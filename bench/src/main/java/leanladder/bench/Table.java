package leanladder.bench;

import java.util.Locale;

/** Prints the results as they come, one line each. */
final class Table {
    void print(String line) {
        System.out.println(line);
    }

    void row(String what, String measured, String beside) {
        System.out.printf("  %-58s %14s   %s%n", what, measured, beside);
    }

    /** The one in the middle. */
    static double median(double[] values) {
        double[] sorted = values.clone();
        java.util.Arrays.sort(sorted);
        return sorted[sorted.length / 2];
    }

    /** Seconds in a unit that reads well. */
    static String time(double seconds) {
        if (seconds >= 1) return String.format(Locale.UK, "%.2f s", seconds);
        if (seconds >= 0.001) return String.format(Locale.UK, "%.2f ms", seconds * 1e3);
        return String.format(Locale.UK, "%.1f µs", seconds * 1e6);
    }
}
