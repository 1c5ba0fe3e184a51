package leanladder.json;

import com.fasterxml.jackson.core.JsonFactory;
import com.fasterxml.jackson.core.JsonParser;
import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.core.StreamReadConstraints;
import com.fasterxml.jackson.databind.DeserializationFeature;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.cfg.JsonNodeFeature;
import com.fasterxml.jackson.databind.json.JsonMapper;
import com.fasterxml.jackson.databind.node.JsonNodeFactory;
import java.io.IOException;
import java.io.UncheckedIOException;

/** How JSON is read and written here: numbers keep their digits, nesting is bounded. */
public final class Json {
    /** Objects and arrays inside one another, at most. */
    public static final int DEPTH = 500;

    public static final JsonNodeFactory NODES = JsonNodeFactory.withExactBigDecimals(true);

    public static final JsonFactory FACTORY = JsonFactory.builder()
            .streamReadConstraints(
                    StreamReadConstraints.builder().maxNestingDepth(DEPTH).build())
            .build();

    public static final ObjectMapper MAPPER = JsonMapper.builder(FACTORY)
            .enable(DeserializationFeature.USE_BIG_DECIMAL_FOR_FLOATS)
            .disable(JsonNodeFeature.STRIP_TRAILING_BIGDECIMAL_ZEROES)
            .nodeFactory(NODES)
            .build();

    private Json() {}

    /** The node as compact JSON text. */
    public static String write(JsonNode node) {
        try {
            return MAPPER.writeValueAsString(node);
        } catch (JsonProcessingException e) {
            throw new IllegalStateException("A tree of JSON could not be written", e);
        }
    }

    /**
     * Reads text that this program wrote itself.
     *
     * @throws IllegalStateException when it is not JSON
     */
    public static JsonNode read(String text) {
        try {
            return parse(text);
        } catch (JsonProcessingException e) {
            throw new IllegalStateException("Stored JSON could not be read", e);
        }
    }

    /**
     * Reads text that comes from elsewhere; a missing node when there is none.
     *
     * @throws JsonProcessingException when it is not JSON that can be read here
     */
    public static JsonNode parse(String text) throws JsonProcessingException {
        try (JsonParser parser = new BigDecimalParser(FACTORY.createParser(text))) {
            JsonNode read = MAPPER.readTree(parser);
            return read == null ? NODES.missingNode() : read;
        } catch (JsonProcessingException e) {
            throw e;
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }
}
