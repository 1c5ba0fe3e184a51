package leanladder.server.http;

import com.fasterxml.jackson.core.JsonFactory;
import com.fasterxml.jackson.core.JsonParser;
import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.core.StreamReadConstraints;
import com.fasterxml.jackson.core.exc.StreamConstraintsException;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectReader;
import io.javalin.http.Context;
import java.io.IOException;
import java.io.InputStream;
import java.io.InputStreamReader;
import java.nio.charset.CharacterCodingException;
import java.nio.charset.CodingErrorAction;
import java.nio.charset.StandardCharsets;
import java.util.Locale;
import java.util.Optional;
import leanladder.json.BigDecimalParser;
import leanladder.json.Defects;
import leanladder.json.Json;
import leanladder.json.JsonCursor;

/**
 * A body that was sent as JSON, and what is wrong with it. It is read whole before anybody waits for it, and no further than its
 * limit.
 */
public final class JsonRequestBody {
    private static final JsonFactory FACTORY = JsonFactory.builder()
            .streamReadConstraints(StreamReadConstraints.builder()
                    .maxNestingDepth(Json.DEPTH)
                    .maxTokenCount(Limits.TOKENS)
                    .maxStringLength((int) Limits.BATCH)
                    .build())
            .enable(com.fasterxml.jackson.core.StreamReadFeature.STRICT_DUPLICATE_DETECTION)
            .build();
    private static final ObjectReader READER = Json.MAPPER.reader();

    private final JsonCursor root;
    private final Defects defects;

    private JsonRequestBody(JsonNode body) {
        defects = new Defects();
        root = new JsonCursor(body, "", defects);
    }

    /** The body of a request, an object; a problem when it is none, or larger than so many bytes. */
    public static JsonRequestBody read(Context ctx, long most) throws IOException {
        String type = ctx.contentType();
        if (type != null && !type.matches("(?i)application/([a-z0-9.+-]+\\+)?json\\s*(;.*)?"))
            throw ProblemException.refused(
                    415,
                    "Wrong type",
                    "The body is sent as " + type + "; it must be JSON, with the Content-Type application/json.");
        JsonRequestBody jsonRequestBody = new JsonRequestBody(parse(ctx, most));
        if (jsonRequestBody.root.isObject()) wellFormed(jsonRequestBody.root.node(), jsonRequestBody.defects);
        jsonRequestBody.refuseDefects();
        return jsonRequestBody;
    }

    private static JsonNode parse(Context ctx, long most) throws IOException {
        try (JsonParser parser = new BigDecimalParser(FACTORY.createParser(new InputStreamReader(
                LargeBodySpool.open(ctx, most),
                StandardCharsets.UTF_8.newDecoder().onMalformedInput(CodingErrorAction.REPORT))))) {
            parser.setCodec(Json.MAPPER);
            JsonNode body = READER.readTree(parser);
            if (body == null || body.isMissingNode())
                throw ProblemException.wrongInput("The body is empty; it must be JSON.");
            if (parser.nextToken() != null)
                throw ProblemException.wrongInput("The body goes on after its JSON object.");
            return body;
        } catch (StreamConstraintsException e) {
            throw String.valueOf(e.getMessage()).contains("nesting")
                    ? ProblemException.wrongInput(
                            "The body is not JSON that is read here: objects and lists stand more than " + Json.DEPTH
                                    + " deep inside one another.")
                    : tooLarge("more than it may hold", most);
        } catch (JsonProcessingException e) {
            throw ProblemException.wrongInput("The body is not JSON: "
                    + e.getOriginalMessage().lines().findFirst().orElse("it cannot be read"));
        } catch (CharacterCodingException e) {
            throw ProblemException.wrongInput("The body is not UTF-8 text.");
        }
    }

    /** The body as it comes, which is refused when it goes beyond so many bytes. */
    public static InputStream bounded(Context ctx, long most) {
        if (ctx.req().getContentLengthLong() > most)
            throw tooLarge(kilobytes(ctx.req().getContentLengthLong()), most);
        return new BoundedInputStream(BodyDigest.of(ctx), most);
    }

    private static ProblemException tooLarge(String size, long most) {
        return ProblemException.refused(
                413,
                "Too large",
                "The body is too large: it has " + size + ", and at most " + kilobytes(most)
                        + " are read here. Nothing was stored; send it in parts.");
    }

    private static String kilobytes(long bytes) {
        return String.format(Locale.ROOT, "%,d KB", bytes / 1024);
    }

    /** Reads no further than it may. */
    private static final class BoundedInputStream extends InputStream {
        private final InputStream in;
        private final long most;
        private long read;

        BoundedInputStream(InputStream in, long most) {
            this.in = in;
            this.most = most;
        }

        @Override
        public int read() throws IOException {
            int next = in.read();
            if (next >= 0) count(1);
            return next;
        }

        @Override
        public int read(byte[] to, int at, int length) throws IOException {
            int got = in.read(to, at, length);
            if (got > 0) count(got);
            return got;
        }

        private void count(int more) {
            read += more;
            if (read > most) throw tooLarge("more than that", most);
        }
    }

    /** Half a surrogate pair, and U+0000, cannot be stored or sent on. Looks at texts alone; a pointer is made only where one is wrong. */
    private static void wellFormed(JsonNode node, Defects defects) {
        if (isWellFormed(node)) return;
        report(new JsonCursor(node, "", defects));
    }

    private static boolean isWellFormed(JsonNode node) {
        if (node.isTextual()) return isWellFormed(node.textValue());
        if (node.isObject())
            for (var member : node.properties())
                if (!isWellFormed(member.getKey()) || !isWellFormed(member.getValue())) return false;
        if (node.isArray()) for (JsonNode item : node) if (!isWellFormed(item)) return false;
        return true;
    }

    private static boolean isWellFormed(String text) {
        for (int i = 0; i < text.length(); i++) {
            if (text.charAt(i) == 0) return false;
            if (!Character.isSurrogate(text.charAt(i))) continue;
            boolean pair = Character.isHighSurrogate(text.charAt(i))
                    && i + 1 < text.length()
                    && Character.isLowSurrogate(text.charAt(i + 1));
            if (!pair) return false;
            i++;
        }
        return true;
    }

    private static void report(JsonCursor jsonCursor) {
        if (jsonCursor.node().isTextual() && !isWellFormed(jsonCursor.node().textValue()))
            jsonCursor.defect("must be well-formed Unicode, without the character U+0000");
        if (jsonCursor.node().isObject())
            jsonCursor.members().forEach((name, member) -> {
                if (!isWellFormed(name)) jsonCursor.defect("has a member whose name is not well-formed Unicode");
                if (!isWellFormed(member.node())) report(member);
            });
        if (jsonCursor.node().isArray())
            jsonCursor.items().stream().filter(i -> !isWellFormed(i.node())).forEach(JsonRequestBody::report);
    }

    /** The whole of it. */
    public JsonCursor root() {
        return root;
    }

    /** What is wrong so far. */
    public Defects defects() {
        return defects;
    }

    /** A member that is there and not null. */
    public Optional<JsonCursor> member(String name) {
        return root.member(name).filter(p -> !p.node().isNull());
    }

    /** A whole number of at most 18 digits at a place. */
    public static Optional<Long> number(JsonCursor jsonCursor) {
        Optional<Long> number =
                jsonCursor.integer().filter(n -> n.bitLength() < 63).map(n -> n.longValue());
        if (number.isEmpty() && jsonCursor.defects().isEmpty()) jsonCursor.defect("is too large");
        return number;
    }

    /** The version that a change of something names. */
    public long version() {
        Optional<Long> version = root.required("version").flatMap(JsonRequestBody::number);
        refuseDefects();
        return version.orElseThrow();
    }

    /** A text that may be left out, of so many characters at most. */
    public Optional<String> text(String name, int most) {
        Optional<JsonCursor> place = member(name);
        Optional<String> text = place.flatMap(JsonCursor::text);
        text.filter(n -> n.length() > most)
                .ifPresent(n -> place.get().defect("must not be longer than " + most + " characters"));
        return text;
    }

    /** Refuses what was found wrong so far. */
    public void refuseDefects() {
        if (!defects.isEmpty()) throw ProblemException.defects(422, "Refused", defects.all());
    }
}
