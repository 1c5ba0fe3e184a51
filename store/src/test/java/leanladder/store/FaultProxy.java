package leanladder.store;

import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.util.List;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.concurrent.atomic.AtomicInteger;

/**
 * Stands between a program and its PostgreSQL, on loopback, and spoils what passes: it can cut all connections right after so many
 * messages of the program, swallow what the database answers, or hold it back.
 */
public final class FaultProxy implements AutoCloseable {
    private final ServerSocket door;
    private final int behind;
    private final List<Socket> sockets = new CopyOnWriteArrayList<>();
    private final AtomicInteger sent = new AtomicInteger();
    private volatile int cutAfter = Integer.MAX_VALUE;
    private volatile boolean deaf;
    private volatile boolean shut;

    /** Opens before a database. @param behind its port */
    public FaultProxy(int behind) throws IOException {
        this.behind = behind;
        door = new ServerSocket(0, 50, InetAddress.getLoopbackAddress());
        start(this::accept);
    }

    /** The address of a database, through this. */
    public String through(String url) {
        return url.replaceFirst(":\\d+/", ":" + door.getLocalPort() + "/");
    }

    /** The port of a JDBC address. */
    public static int port(String url) {
        return Integer.parseInt(url.replaceFirst(".*:(\\d+)/.*", "$1"));
    }

    /** Cuts everything once so many more messages of the program have gone through; the answer to the last of them does not come. */
    public void cutAfter(int messages) {
        sent.set(0);
        deaf = false;
        cutAfter = messages;
    }

    /** How many messages went through since {@link #cutAfter}. */
    public int sent() {
        return sent.get();
    }

    /** Lets everything through again. */
    public void mend() {
        cutAfter = Integer.MAX_VALUE;
        deaf = false;
        shut = false;
    }

    /** Swallows what either side says, and takes no new connection. */
    public void blackHole() {
        deaf = true;
        shut = true;
    }

    /** Cuts every connection, and takes no new one. */
    public void away() {
        shut = true;
        cut();
    }

    private void cut() {
        sockets.forEach(FaultProxy::close);
        sockets.clear();
    }

    private void accept() {
        while (!door.isClosed()) {
            try {
                Socket program = door.accept();
                sockets.add(program);
                if (shut) {
                    if (!deaf) close(program);
                    continue;
                }
                Socket database = new Socket(InetAddress.getLoopbackAddress(), behind);
                sockets.add(database);
                start(() -> pass(program, database, true));
                start(() -> pass(database, program, false));
            } catch (IOException e) {
                if (!door.isClosed()) throw new IllegalStateException(e);
            }
        }
    }

    private void pass(Socket from, Socket to, boolean ofProgram) {
        byte[] buffer = new byte[1 << 16];
        try (InputStream in = from.getInputStream();
                OutputStream out = to.getOutputStream()) {
            for (int got; (got = in.read(buffer)) >= 0; ) {
                if (deaf) continue;
                out.write(buffer, 0, got);
                out.flush();
                if (ofProgram && sent.incrementAndGet() == cutAfter) {
                    // The database has it and carries it out; nobody hears of it.
                    cutAfter = Integer.MAX_VALUE;
                    cut();
                }
            }
        } catch (IOException gone) {
            close(from);
            close(to);
        }
    }

    private static void close(Socket socket) {
        try {
            socket.close();
        } catch (IOException e) {
            throw new IllegalStateException(e);
        }
    }

    private static void start(Runnable task) {
        Thread thread = new Thread(task, "fault proxy");
        thread.setDaemon(true);
        thread.start();
    }

    @Override
    public void close() throws IOException {
        door.close();
        cut();
    }
}
