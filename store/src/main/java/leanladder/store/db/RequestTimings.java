package leanladder.store.db;

import java.time.Duration;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.function.Supplier;
import java.util.stream.Collectors;

/** What the time of a request goes into, kept by the thread that works on it, for the log of slow requests. */
public final class RequestTimings {
    private static final ThreadLocal<Map<String, Long>> BY_NAME = ThreadLocal.withInitial(LinkedHashMap::new);
    private static final Duration WORTH_TELLING = Duration.ofMillis(10);

    private RequestTimings() {}

    /** Does something, and counts its time under a name. What is counted inside it counts under its own name as well. */
    public static <T> T on(String name, Supplier<T> work) {
        long began = System.nanoTime();
        try {
            return work.get();
        } finally {
            add(name, System.nanoTime() - began);
        }
    }

    /** Counts so much time under a name. */
    public static void add(String name, long nanos) {
        BY_NAME.get().merge(name, nanos, Long::sum);
    }

    /** What was counted on this thread since this was last asked, in words; empty where nothing took long enough to be told. */
    public static String told() {
        Map<String, Long> counted = BY_NAME.get();
        String words = counted.entrySet().stream()
                .filter(e -> e.getValue() >= WORTH_TELLING.toNanos())
                .map(e -> e.getValue() / 1_000_000 + " ms of it on " + e.getKey())
                .collect(Collectors.joining(", "));
        counted.clear();
        return words;
    }
}
