package leanladder.bench;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.io.UncheckedIOException;
import java.net.HttpURLConnection;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.util.function.BiConsumer;

/** Reads a stream of events on a thread of its own, until it is closed. */
final class EventStreamReader implements AutoCloseable {
    private final HttpURLConnection stream;

    /** @param hears each event's name and data, as it comes */
    EventStreamReader(String address, BiConsumer<String, String> hears, String... headers) {
        try {
            stream = (HttpURLConnection) URI.create(address).toURL().openConnection();
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
        for (int i = 0; i < headers.length; i += 2) stream.setRequestProperty(headers[i], headers[i + 1]);
        Thread reader = new Thread(() -> read(hears), "reading events");
        reader.setDaemon(true);
        reader.start();
    }

    private void read(BiConsumer<String, String> hears) {
        try (BufferedReader lines =
                new BufferedReader(new InputStreamReader(stream.getInputStream(), StandardCharsets.UTF_8))) {
            String event = "";
            for (String line = lines.readLine(); line != null; line = lines.readLine()) {
                if (line.startsWith("event: ")) event = line.substring("event: ".length());
                if (line.startsWith("data: ")) hears.accept(event, line.substring("data: ".length()));
            }
        } catch (IOException closed) {
            hears.accept("closed", String.valueOf(closed.getMessage()));
        }
    }

    @Override
    public void close() {
        stream.disconnect();
    }
}
