package leanladder.resolve;

import java.util.Map;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CompletionException;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.Supplier;

/**
 * Computes the value of a key once. Threads that ask for the same key meanwhile wait for it. No lock of the map is held while a value is
 * computed: {@link ConcurrentHashMap#computeIfAbsent} locks a bin, which other keys share, and must not be entered again by the computation.
 */
final class Memo<K, V> {
    private final Map<K, V> values;
    private final Map<K, CompletableFuture<V>> computing = new ConcurrentHashMap<>();

    /** @param values that are known, and to which others are added */
    Memo(ConcurrentHashMap<K, V> values) {
        this.values = values;
    }

    /** The value of a key. Where computing it fails, every thread that waits for it fails alike, and the next one computes it again. */
    V get(K key, Supplier<V> compute) {
        V known = values.get(key);
        if (known != null) return known;
        CompletableFuture<V> mine = new CompletableFuture<>();
        CompletableFuture<V> other = computing.putIfAbsent(key, mine);
        if (other != null) return await(other);
        try {
            // Another thread may have ended between the two looks.
            V value = values.get(key);
            if (value == null) {
                value = compute.get();
                values.put(key, value);
            }
            mine.complete(value);
            return value;
        } catch (RuntimeException | Error failure) {
            mine.completeExceptionally(failure);
            throw failure;
        } finally {
            computing.remove(key, mine);
        }
    }

    private static <V> V await(CompletableFuture<V> other) {
        try {
            return other.join();
        } catch (CompletionException e) {
            if (e.getCause() instanceof RuntimeException failure) throw failure;
            if (e.getCause() instanceof Error failure) throw failure;
            throw e;
        }
    }
}
