package leanladder.server.http;

import io.javalin.http.Context;
import java.io.IOException;
import java.io.InputStream;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.HexFormat;
import java.util.Optional;

/** The body of a request as it is read, and what tells it from other bodies once it was read to its end. */
final class BodyDigest extends InputStream {
    private static final String NAME = BodyDigest.class.getName();

    private final InputStream in;
    private final MessageDigest digest;
    private boolean ended;

    private BodyDigest(InputStream in) {
        this.in = in;
        try {
            digest = MessageDigest.getInstance("SHA-256");
        } catch (NoSuchAlgorithmException e) {
            throw new IllegalStateException(e);
        }
    }

    /** That of a request: one for all who read it. @throws ProblemException where it was sent packed */
    static BodyDigest of(Context ctx) {
        BodyDigest body = ctx.attribute(NAME);
        if (body == null) {
            String coding = ctx.header("Content-Encoding");
            if (coding != null && !coding.isBlank() && !coding.equalsIgnoreCase("identity"))
                throw ProblemException.refused(
                        415, "Packed", "The body is sent as " + coding + "; send it as it is, without packing it.");
            body = new BodyDigest(new MinimumRateInputStream(ctx.bodyInputStream()));
            ctx.attribute(NAME, body);
        }
        return body;
    }

    @Override
    public int read() throws IOException {
        int next = in.read();
        if (next < 0) ended = true;
        else digest.update((byte) next);
        return next;
    }

    @Override
    public int read(byte[] into, int from, int most) throws IOException {
        int got = in.read(into, from, most);
        if (got < 0) ended = true;
        else digest.update(into, from, got);
        return got;
    }

    /** What tells the body from others; empty while it is not read to its end. Bodies that are stored as they come have none. */
    Optional<String> fingerprint() {
        if (!ended) return Optional.empty();
        try {
            MessageDigest sofar = (MessageDigest) digest.clone();
            return Optional.of(HexFormat.of().formatHex(sofar.digest()));
        } catch (CloneNotSupportedException e) {
            throw new IllegalStateException(e);
        }
    }
}
