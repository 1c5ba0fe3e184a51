package leanladder.server.state;

import java.util.concurrent.locks.ReentrantLock;
import java.util.function.Supplier;
import leanladder.server.http.ProblemException;

/** Work of which two would not fit into memory side by side: one at a time. Few wait for their turn, and the rest are told. */
public final class BoundedMutex {
    private static final int WAITING = 8;

    private final ReentrantLock turn = new ReentrantLock(true);
    private final String busy;

    /** @param busy the sentence for those who are not to wait */
    public BoundedMutex(String busy) {
        this.busy = busy;
    }

    /** Work that can fail in two ways of its own. */
    public interface Work<T, A extends Exception, B extends Exception> {
        T run() throws A, B;
    }

    /** Does it when it is its turn; at once as a part of what has its turn already. */
    public <T> T work(Supplier<T> work) {
        return run(work::get);
    }

    /** The same for work that can fail. */
    public <T, A extends Exception, B extends Exception> T run(Work<T, A, B> work) throws A, B {
        if (!turn.isHeldByCurrentThread() && turn.getQueueLength() >= WAITING)
            throw ProblemException.refused(503, "Too busy", busy + " Try again in a moment.");
        turn.lock();
        try {
            return work.run();
        } finally {
            turn.unlock();
        }
    }
}
