package leanladder.estate.read;

import com.fasterxml.jackson.core.JsonParser;
import com.fasterxml.jackson.core.JsonToken;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.io.IOException;
import java.util.Locale;
import leanladder.json.Defects;
import leanladder.json.Json;
import leanladder.json.JsonCursor;

/** Builds a tree from the parser's next value and reports what a tree could not show any more: repeated members, broken text. */
final class JsonTreeReader {
    /** A text of so many characters counts as one more value. */
    private static final int TEXT = 64;

    private final JsonParser parser;
    private final Defects defects;
    private final long most;
    private long kept;
    private long counted;

    JsonTreeReader(JsonParser parser, Defects defects) {
        this(parser, defects, most());
    }

    /** @param most how many values may be held, see {@link #most()} */
    JsonTreeReader(JsonParser parser, Defects defects, long most) {
        this.most = most;
        this.parser = parser;
        this.defects = defects;
    }

    /** A value that was read, at its place; what is found of it later is found with the rest. */
    JsonCursor place(JsonNode value, String pointer) {
        return new JsonCursor(value, pointer, defects);
    }

    /** Takes a long list whose first token is the current one, up to its last. */
    @FunctionalInterface
    interface LongListReader {
        void at(String pointer) throws IOException;
    }

    /** Takes an element of a long list as it is met. */
    @FunctionalInterface
    interface ElementConsumer {
        void met(JsonNode element, String pointer);
    }

    /** Hands over the elements of the list at the current token one after the other. */
    void elements(String pointer, ElementConsumer each) throws IOException {
        for (int i = 0; parser.nextToken() != JsonToken.END_ARRAY; i++) {
            long before = counted;
            each.met(value(pointer + "/" + i), pointer + "/" + i);
            counted = before;
        }
    }

    /** Puts the elements of the list at the current token into member texts. */
    void texts(String pointer, MemberIdPool into) throws IOException {
        for (JsonToken item = parser.nextToken(); item != JsonToken.END_ARRAY; item = parser.nextToken()) {
            boolean taken = item == JsonToken.VALUE_STRING
                    && into.add(parser.getTextCharacters(), parser.getTextOffset(), parser.getTextLength());
            if (!taken) into.add(value(pointer + "/" + into.size()));
        }
    }

    /** The value at the current token; where it is an object, without one of its members, a long list, which is taken by itself. */
    JsonNode objectWithout(String list, String pointer, LongListReader taking) throws IOException {
        if (parser.currentToken() != JsonToken.START_OBJECT) return value(pointer);
        ObjectNode object = Json.NODES.objectNode();
        boolean met = false;
        while (parser.nextToken() == JsonToken.FIELD_NAME) {
            String name = memberName(pointer);
            String at = JsonCursor.pointer(pointer, name);
            parser.nextToken();
            boolean apart = name.equals(list) && parser.currentToken() == JsonToken.START_ARRAY;
            if (object.has(name) || apart && met) {
                repeated(at, name);
                parser.skipChildren();
            } else if (apart) {
                met = true;
                taking.at(at);
            } else object.set(name, value(at));
        }
        return object;
    }

    /** How many values one element of a list may hold, and how many all that is kept of a file may. By the memory that there is. */
    static long most() {
        return Math.max(1_000_000, Runtime.getRuntime().maxMemory() / 400);
    }

    /** Says that a file holds more than is kept as trees; its message is a sentence for whoever sent it. */
    static final class ValueLimitException extends IOException {
        private static final long serialVersionUID = 1;

        ValueLimitException(String message) {
            super(message);
        }
    }

    /** Says that what was read since the last element is kept until the file is read; otherwise it is forgotten. */
    void elementEnds(boolean isKept) {
        if (isKept) kept += counted;
        counted = 0;
    }

    private void count(String pointer, long values) throws ValueLimitException {
        counted += values;
        if (counted + kept > most)
            throw new ValueLimitException("holds too much at " + pointer(pointer)
                    + ": one element, or all that stands outside of the lists of"
                    + " units, accounts, groups and workspaces, may hold " + String.format(Locale.ROOT, "%,d", most)
                    + " values");
    }

    private static String pointer(String pointer) {
        int second = pointer.indexOf('/', 1);
        return second < 0 ? pointer : pointer.substring(0, second);
    }

    /** The value at the current token; afterwards the parser stands on its last token. */
    JsonNode value(String pointer) throws IOException {
        JsonToken token = parser.currentToken();
        count(pointer, token == JsonToken.VALUE_STRING ? 1 + parser.getTextLength() / TEXT : 1);
        switch (token) {
            case START_OBJECT -> {
                var object = Json.NODES.objectNode();
                while (parser.nextToken() == JsonToken.FIELD_NAME) {
                    String name = memberName(pointer);
                    String at = JsonCursor.pointer(pointer, name);
                    parser.nextToken();
                    JsonNode value = value(at);
                    if (object.has(name)) repeated(at, name);
                    else object.set(name, value);
                }
                return object;
            }
            case START_ARRAY -> {
                var array = Json.NODES.arrayNode();
                // Lists of texts can be very long: their pointers are made only where one is needed.
                for (JsonToken item = parser.nextToken(); item != JsonToken.END_ARRAY; item = parser.nextToken()) {
                    String text = item == JsonToken.VALUE_STRING ? parser.getText() : null;
                    if (text != null && isWellFormed(text)) {
                        count(pointer, 1 + text.length() / TEXT);
                        array.add(Json.NODES.textNode(text));
                    } else array.add(value(pointer + "/" + array.size()));
                }
                return array;
            }
            case VALUE_STRING -> {
                String text = parser.getText();
                if (!isWellFormed(text))
                    defects.add(pointer, "must be well-formed Unicode, but holds half of a surrogate pair");
                return Json.NODES.textNode(text);
            }
            case VALUE_NUMBER_INT -> {
                return integer();
            }
            case VALUE_NUMBER_FLOAT -> {
                return Json.NODES.numberNode(parser.getDecimalValue());
            }
            case VALUE_TRUE, VALUE_FALSE -> {
                return Json.NODES.booleanNode(token == JsonToken.VALUE_TRUE);
            }
            case VALUE_NULL -> {
                return Json.NODES.nullNode();
            }
            default -> throw new IllegalStateException("No value starts with " + token);
        }
    }

    /** The name at the current token, checked. */
    String memberName(String parent) throws IOException {
        String name = parser.currentName();
        if (!isWellFormed(name)) defects.add(parent, "has a member whose name is not well-formed Unicode");
        return name;
    }

    void repeated(String pointer, String name) {
        defects.add(pointer, "names the member \"" + name + "\" a second time in one object; keep one of them");
    }

    private static boolean isWellFormed(String text) {
        for (int i = 0; i < text.length(); i++) {
            char c = text.charAt(i);
            if (!Character.isSurrogate(c)) continue;
            boolean pair = Character.isHighSurrogate(c)
                    && i + 1 < text.length()
                    && Character.isLowSurrogate(text.charAt(i + 1));
            if (!pair) return false;
            i++;
        }
        return true;
    }

    /** As {@link Json#read} reads it: nodes are equal only where they are of one class. */
    private JsonNode integer() throws IOException {
        return switch (parser.getNumberType()) {
            case INT -> Json.NODES.numberNode(parser.getIntValue());
            case LONG -> Json.NODES.numberNode(parser.getLongValue());
            default -> Json.NODES.numberNode(parser.getBigIntegerValue());
        };
    }
}
