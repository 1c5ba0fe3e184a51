package leanladder.server.http;

import java.io.IOException;
import java.io.OutputStream;
import java.util.LinkedHashMap;
import java.util.Map;

/** What a request is answered with: a record that is written as JSON, a list as comma-separated values, a stream, or nothing. */
public final class Answer {
    private final int status;
    private final Object content;
    private final Map<String, String> headers = new LinkedHashMap<>();
    private byte[] json;

    /** Something that is written as it is made. */
    @FunctionalInterface
    public interface Stream {
        void writeTo(OutputStream out) throws IOException;
    }

    private Answer(int status, Object content) {
        this.status = status;
        this.content = content;
    }

    /** A record, or a list of comma-separated values. */
    public static Answer of(Object content) {
        return new Answer(200, content);
    }

    /** A record that is written as JSON already. */
    public static Answer json(byte[] written) {
        Answer answer = new Answer(200, written);
        answer.json = written;
        return answer;
    }

    /** A record that tells of something new, which can be got at a path. */
    public static Answer created(Object content, String location) {
        return new Answer(201, content).with("Location", location);
    }

    /** A record that tells of something new. */
    public static Answer created(Object content) {
        return new Answer(201, content);
    }

    /** JSON that is written as it is made. */
    public static Answer stream(Stream stream) {
        return new Answer(200, stream);
    }

    /** That it is done, and nothing else. */
    public static Answer none() {
        return new Answer(204, null);
    }

    /** That what the asker has still holds. */
    public static Answer unchanged() {
        return new Answer(304, null);
    }

    /** The same with a header. */
    public Answer with(String header, String value) {
        headers.put(header, value);
        return this;
    }

    /** A record as JSON; it is written once, however often it is asked for. */
    public byte[] json() {
        if (json == null) json = Answers.write(content);
        return json;
    }

    int status() {
        return status;
    }

    Object content() {
        return content;
    }

    Map<String, String> headers() {
        return headers;
    }
}
