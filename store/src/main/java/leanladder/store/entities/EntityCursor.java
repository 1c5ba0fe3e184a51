package leanladder.store.entities;

import java.util.ArrayList;
import java.util.Iterator;
import java.util.List;
import java.util.NoSuchElementException;
import java.util.Objects;
import java.util.concurrent.ArrayBlockingQueue;
import java.util.concurrent.BlockingQueue;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.FutureTask;
import leanladder.estate.read.Section;
import leanladder.store.db.Database;
import org.jspecify.annotations.Nullable;

/**
 * The parts of a section as they stood after a change, as JSON texts, some at a time; read from the database on a thread of its own while
 * they are taken. A connection is used from the first one that is asked for, so that several sections want one after the other.
 */
final class EntityCursor implements Iterator<List<String>>, AutoCloseable {
    private static final int AHEAD = 8;
    /** Characters from which texts are handed over. */
    private static final int ENOUGH = 1 << 16;

    private final BlockingQueue<List<String>> ready = new ArrayBlockingQueue<>(AHEAD);
    private final FutureTask<Boolean> reading;
    private final Thread thread;
    private @Nullable List<String> next;

    EntityCursor(Database database, Section section, long asOf) {
        reading = new FutureTask<>(() -> {
            try {
                return database.readSnapshot(tx -> {
                    try (var rows = EstateExport.unsorted(tx, section, asOf)) {
                        List<String> texts = new ArrayList<>();
                        int characters = 0;
                        for (var row : rows) {
                            texts.add(row.value1().data());
                            characters += row.value1().data().length();
                            if (characters < ENOUGH) continue;
                            if (!put(texts)) return false;
                            texts = new ArrayList<>();
                            characters = 0;
                        }
                        if (!texts.isEmpty()) put(texts);
                    }
                    return true;
                });
            } finally {
                put(List.of());
            }
        });
        thread = new Thread(reading, "reading the " + section.member());
    }

    /** Whether it was waited for; nobody waits any more once it is closed. */
    private boolean put(List<String> texts) {
        try {
            ready.put(texts);
            return true;
        } catch (InterruptedException closed) {
            Thread.currentThread().interrupt();
            return false;
        }
    }

    /** @throws RuntimeException where reading failed, such as {@link leanladder.store.db.Unavailable}: what came is not all */
    @Override
    public boolean hasNext() {
        try {
            if (thread.getState() == Thread.State.NEW) thread.start();
            if (next == null) next = ready.take();
            if (next.isEmpty()) reading.get();
            return !next.isEmpty();
        } catch (ExecutionException e) {
            if (e.getCause() instanceof RuntimeException failure) throw failure;
            throw new IllegalStateException("What is stored cannot be read", e.getCause());
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw new IllegalStateException("What is stored is not waited for any more", e);
        }
    }

    @Override
    public List<String> next() {
        if (!hasNext()) throw new NoSuchElementException();
        List<String> texts = Objects.requireNonNull(next);
        next = null;
        return texts;
    }

    @Override
    public void close() {
        thread.interrupt();
    }
}
