package leanladder.server.http;

import java.io.IOException;
import java.io.OutputStream;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/** What a request is answered with: a record that is written as JSON, a list as comma-separated values, a stream, or nothing. */
public final class Response {
    private final int status;
    private final @Nullable Object content;
    private final Map<String, String> headers = new LinkedHashMap<>();
    private byte @Nullable [] json;

    /** Something that is written as it is made. */
    @FunctionalInterface
    public interface ContentWriter {
        void writeTo(OutputStream out) throws IOException;
    }

    private Response(int status, @Nullable Object content) {
        this.status = status;
        this.content = content;
    }

    /** A record, or a list of comma-separated values. */
    public static Response of(Object content) {
        return new Response(200, content);
    }

    /** A record that is written as JSON already. */
    public static Response json(byte[] written) {
        Response response = new Response(200, written);
        response.json = written;
        return response;
    }

    /** A record that tells of something new, which can be got at a path. */
    public static Response created(Object content, String location) {
        return new Response(201, content).with("Location", location);
    }

    /** A record that tells of something new. */
    public static Response created(Object content) {
        return new Response(201, content);
    }

    /** JSON that is written as it is made. */
    public static Response stream(ContentWriter contentWriter) {
        return new Response(200, contentWriter);
    }

    /** That it is done, and nothing else. */
    public static Response none() {
        return new Response(204, null);
    }

    /** That what the asker has still holds. */
    public static Response unchanged() {
        return new Response(304, null);
    }

    /** The same with a header. */
    public Response with(String header, String value) {
        headers.put(header, value);
        return this;
    }

    /** A record as JSON; it is written once, however often it is asked for. */
    public byte[] json() {
        if (json == null) json = JsonWriter.write(Objects.requireNonNull(content));
        return json;
    }

    int status() {
        return status;
    }

    @Nullable
    Object content() {
        return content;
    }

    Map<String, String> headers() {
        return headers;
    }
}
