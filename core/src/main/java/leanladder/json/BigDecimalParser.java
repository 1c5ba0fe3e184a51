package leanladder.json;

import com.fasterxml.jackson.core.JsonParseException;
import com.fasterxml.jackson.core.JsonParser;
import com.fasterxml.jackson.core.util.JsonParserDelegate;
import java.io.IOException;
import java.math.BigDecimal;

/** Reads JSON as the parser below it does, but says where a number is too long or too large to be held exactly, instead of failing at it. */
public final class BigDecimalParser extends JsonParserDelegate {
    /** Over another parser. */
    public BigDecimalParser(JsonParser parser) {
        super(parser);
    }

    @Override
    public BigDecimal getDecimalValue() throws IOException {
        try {
            return super.getDecimalValue();
        } catch (NumberFormatException | ArithmeticException e) {
            throw new JsonParseException(this, "A number has an exponent that is too large to be read", e);
        }
    }
}
