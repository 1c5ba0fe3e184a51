package leanladder.server.state;

import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CompletionException;
import java.util.concurrent.ConcurrentMap;
import java.util.function.Supplier;

/** What takes long to work out is worked out once: who asks for the same meanwhile waits for it, and who asks for something else does not. */
final class SingleFlight {
    private SingleFlight() {}

    /** The value of a key, which is worked out by whoever asks first; where that fails, all who wait fail alike. */
    static <K, V> V get(ConcurrentMap<K, CompletableFuture<V>> known, K key, Supplier<V> make) {
        CompletableFuture<V> there = known.get(key);
        if (there == null) {
            CompletableFuture<V> mine = new CompletableFuture<>();
            there = known.putIfAbsent(key, mine);
            if (there == null) {
                there = mine;
                try {
                    mine.complete(make.get());
                } catch (RuntimeException | Error failure) {
                    mine.completeExceptionally(failure);
                }
            }
        }
        try {
            return there.join();
        } catch (CompletionException e) {
            if (e.getCause() instanceof RuntimeException failure) throw failure;
            if (e.getCause() instanceof Error failure) throw failure;
            throw e;
        }
    }
}
