package leanladder.server;

import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.Socket;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;

/** Clients that send what they are told to and then do nothing more, with little room for what they are answered. */
final class Sockets implements AutoCloseable {
    private final int port;
    private final List<Socket> open = new ArrayList<>();

    /** None yet. @param address of the server */
    Sockets(String address) {
        port = URI.create(address).getPort();
    }

    /** Where a request to a port begins. */
    static String head(int port, String method, String path) {
        return method + " " + path + " HTTP/1.1\r\nHost: 127.0.0.1:" + port + "\r\n";
    }

    /** One that sends a text to a port. */
    static Socket connected(int port, String request) throws IOException {
        Socket socket = new Socket();
        socket.setReceiveBufferSize(2048);
        socket.connect(new InetSocketAddress(InetAddress.getLoopbackAddress(), port));
        socket.getOutputStream().write(request.getBytes(StandardCharsets.ISO_8859_1));
        socket.getOutputStream().flush();
        socket.setSoTimeout(30_000);
        return socket;
    }

    String head(String method, String path) {
        return head(port, method, path);
    }

    Socket open(String request) throws IOException {
        Socket socket = connected(port, request);
        open.add(socket);
        return socket;
    }

    /** So many that send the same. */
    void open(int many, String request) throws IOException {
        for (int i = 0; i < many; i++) open(request);
    }

    @Override
    public void close() throws IOException {
        for (Socket socket : open) socket.close();
    }
}
