package leanladder.server;

import java.io.IOException;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.locks.LockSupport;

/** A server in a process of its own, on one port for good: it can be paused and killed. */
public final class ServerProcess {
    private static final long LOOK = TimeUnit.MILLISECONDS.toNanos(50);
    private static final long PATIENCE = TimeUnit.MINUTES.toNanos(5);

    private final Path state;
    private final int port;
    private final List<String> command;
    private Process process;

    /**
     * Not started yet.
     *
     * @param state the folder in which it says how it went
     * @param connection the file that says where its database is
     * @param java options of the Java machine
     * @param server further options of the server
     */
    public ServerProcess(Path state, Path connection, List<String> java, String... server) throws IOException {
        this.state = Files.createDirectories(state);
        try (ServerSocket socket = new ServerSocket(0, 1, InetAddress.getLoopbackAddress())) {
            port = socket.getLocalPort();
        }
        command = new ArrayList<>();
        command.add(Path.of(System.getProperty("java.home"), "bin", "java").toString());
        command.addAll(java);
        command.addAll(List.of(
                "-cp", System.getProperty("java.class.path"), Main.class.getName(), "--port", String.valueOf(port)));
        command.addAll(List.of("--connection", connection.toString(), "--web", "no-web", "--as", "Ivo Tarn"));
        command.addAll(List.of("--state", state.toString()));
        command.addAll(List.of(server));
    }

    /** Lets whoever asks it go first on the same machine, as if they were on another one. */
    public ServerProcess givingWay() {
        command.addAll(0, List.of("nice", "-n", "10"));
        return this;
    }

    public String address() {
        return "http://127.0.0.1:" + port;
    }

    /** The number of the process. */
    public long pid() {
        return process.pid();
    }

    /** Starts it, and waits until it answers. */
    public void start() throws IOException {
        Files.deleteIfExists(state.resolve("ready"));
        Path log = state.resolve("log");
        process = new ProcessBuilder(command)
                .redirectErrorStream(true)
                .redirectOutput(ProcessBuilder.Redirect.appendTo(log.toFile()))
                .start();
        long until = System.nanoTime() + PATIENCE;
        while (!Files.exists(state.resolve("ready"))) {
            if (!process.isAlive() || System.nanoTime() > until)
                throw new IllegalStateException("The server does not start: " + Files.readString(log));
            LockSupport.parkNanos(LOOK);
        }
    }

    /** Has it do nothing, as a machine that is overwhelmed does. */
    public void pause() throws IOException, InterruptedException {
        signal("STOP");
    }

    /** Has it go on. */
    public void goOn() throws IOException, InterruptedException {
        signal("CONT");
    }

    private void signal(String name) throws IOException, InterruptedException {
        if (!process.isAlive()) return;
        int code = new ProcessBuilder("sh", "-c", "kill -" + name + " " + process.pid())
                .start()
                .waitFor();
        if (code != 0) throw new IllegalStateException("The signal " + name + " could not be sent");
    }

    /** Ends it in the middle of whatever it does. */
    public void kill() throws InterruptedException {
        process.destroyForcibly();
        if (!process.waitFor(30, TimeUnit.SECONDS)) throw new IllegalStateException("The server cannot be killed");
    }
}
