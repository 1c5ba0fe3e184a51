package leanladder.server.state;

import java.util.concurrent.locks.ReentrantLock;
import java.util.function.Supplier;

/** Runs work one at a time that does not fit into memory twice. At most {@value #WAITING} threads wait; others get a 503. */
public final class BoundedMutex {
    private static final int WAITING = 8;

    private final ReentrantLock turn = new ReentrantLock(true);
    private final String busy;

    /** @param busy the first sentence of the 503 */
    public BoundedMutex(String busy) {
        this.busy = busy;
    }

    /** Work that can throw two checked exceptions. */
    public interface Work<T, A extends Exception, B extends Exception> {
        T run() throws A, B;
    }

    /** Returns the result of the work. Runs at once when the calling thread already holds the mutex. */
    public <T> T get(Supplier<T> work) {
        return run(work::get);
    }

    /** Runs work that can throw checked exceptions. */
    public <T, A extends Exception, B extends Exception> T run(Work<T, A, B> work) throws A, B {
        if (!turn.isHeldByCurrentThread() && turn.getQueueLength() >= WAITING)
            throw new StateException(StateException.Reason.BUSY, busy + " Try again in a moment.");
        turn.lock();
        try {
            return work.run();
        } finally {
            turn.unlock();
        }
    }
}
