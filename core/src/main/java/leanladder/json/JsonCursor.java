package leanladder.json;

import com.fasterxml.jackson.databind.JsonNode;
import java.math.BigDecimal;
import java.math.BigInteger;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import java.util.regex.Pattern;

/**
 * A node of a document being read, together with where it stands. What a caller asks of it either fits or is reported as a
 * defect of that place, so that reading goes on and every defect is found in one pass.
 */
public final class JsonCursor {
    private static final Pattern KEY = Pattern.compile("[a-z0-9]+([.-][a-z0-9]+)*");
    private static final int MAX_ID = 200;
    private static final int MAX_DIGITS = 1000;

    private final JsonNode node;
    private final String pointer;
    private final Defects defects;

    public JsonCursor(JsonNode node, String pointer, Defects defects) {
        this.node = node;
        this.pointer = pointer;
        this.defects = defects;
    }

    public JsonNode node() {
        return node;
    }

    /** Where defects of this document are collected. */
    public Defects defects() {
        return defects;
    }

    /** The JSON Pointer of this place. */
    public String pointer() {
        return pointer;
    }

    /** Reports a defect of this place. */
    public void defect(String message) {
        defects.add(pointer, message);
    }

    /** Reports something doubtful about this place. */
    public void warn(String message) {
        defects.warn(pointer, message);
    }

    /** The pointer of a member of the object at a pointer. */
    public static String pointer(String parent, String member) {
        boolean plain = member.indexOf('~') < 0 && member.indexOf('/') < 0;
        return parent + "/" + (plain ? member : member.replace("~", "~0").replace("/", "~1"));
    }

    /** Whether this is an object; a defect when it is not. */
    public boolean isObject() {
        if (!node.isObject()) defect("must be an object, but is " + describe());
        return node.isObject();
    }

    /** The member of that name, when there is one. */
    public Optional<JsonCursor> member(String name) {
        return Optional.ofNullable(node.get(name)).map(n -> new JsonCursor(n, pointer(pointer, name), defects));
    }

    /** The member of that name; a defect when there is none. */
    public Optional<JsonCursor> required(String name) {
        Optional<JsonCursor> found = member(name);
        if (found.isEmpty()) defect("lacks the member \"" + name + "\"");
        return found;
    }

    /** The items of this array; a defect, and none, when it is not one. */
    public List<JsonCursor> items() {
        if (!node.isArray()) {
            defect("must be a list, but is " + describe());
            return List.of();
        }
        var items = new ArrayList<JsonCursor>(node.size());
        for (int i = 0; i < node.size(); i++) items.add(new JsonCursor(node.get(i), pointer + "/" + i, defects));
        return items;
    }

    /** The items of the array of that name; none when it is left out. */
    public List<JsonCursor> items(String name) {
        return member(name).map(JsonCursor::items).orElse(List.of());
    }

    /** The members of this object by name, in the order of the file. */
    public Map<String, JsonCursor> members() {
        var members = new java.util.LinkedHashMap<String, JsonCursor>();
        node.fieldNames()
                .forEachRemaining(name -> members.put(name, member(name).orElseThrow()));
        return members;
    }

    public Optional<String> text() {
        if (node.isTextual()) return Optional.of(node.textValue());
        defect("must be a text, but is " + describe());
        return Optional.empty();
    }

    /** Reports that an id which this element has was given before. */
    public void repeats(String id) {
        member("id").orElse(this).defect("repeats the id \"" + id + "\"; ids must differ");
    }

    /** A text that can be an id: 1 to 200 characters. */
    public Optional<String> id() {
        return text().filter(t -> {
            int length = t.codePointCount(0, t.length());
            if (length < 1 || length > MAX_ID) defect("must be an id of 1 to " + MAX_ID + " characters");
            return length >= 1 && length <= MAX_ID;
        });
    }

    /** A text that can be the key of a setting. */
    public Optional<String> key() {
        return text().filter(t -> {
            boolean fits = KEY.matcher(t).matches();
            if (!fits) defect("must be a key: lower-case letters and digits, joined by single dots or hyphens");
            return fits;
        });
    }

    public Optional<Boolean> bool() {
        if (node.isBoolean()) return Optional.of(node.booleanValue());
        defect("must be true or false, but is " + describe());
        return Optional.empty();
    }

    /** A number without a fraction, of at most a thousand digits. */
    public Optional<BigInteger> integer() {
        if (node.isNumber()) {
            BigDecimal number = node.decimalValue();
            boolean bounded = Math.abs((long) number.precision() - number.scale()) <= MAX_DIGITS;
            if (bounded && number.stripTrailingZeros().scale() <= 0) return Optional.of(number.toBigInteger());
        }
        defect("must be a whole number, but is " + describe());
        return Optional.empty();
    }

    public Optional<Instant> instant() {
        return parsed(
                Instants::instant,
                "must be an instant such as 2026-11-23T12:00:00Z (RFC 3339, at most nine digits of fraction, no leap second)");
    }

    public Optional<LocalDate> day() {
        return parsed(Instants::day, "must be a day such as 2026-11-23");
    }

    /** One of some words. */
    public <T> Optional<T> word(Map<String, T> words) {
        return parsed(
                t -> Optional.ofNullable(words.get(t)),
                "must be one of " + String.join(", ", new java.util.TreeSet<>(words.keySet())));
    }

    /**
     * A text that says something of a form.
     *
     * @param parse reads it; empty where it does not fit
     * @param otherwise the beginning of the defect's message, such as "must be a day"
     */
    public <T> Optional<T> parsed(Function<String, Optional<T>> parse, String otherwise) {
        Optional<T> found = node.isTextual() ? parse.apply(node.textValue()) : Optional.empty();
        if (found.isEmpty()) defect(otherwise + ", but is " + describe());
        return found;
    }

    private String describe() {
        if (node.isTextual()) {
            String text = node.textValue();
            return "\"" + (text.length() > 60 ? text.substring(0, text.offsetByCodePoints(0, 40)) + "…" : text) + "\"";
        }
        if (node.isObject()) return "an object";
        if (node.isArray()) return "a list";
        String written = node.toString();
        return written.length() > 60 ? "a number of " + written.length() + " characters" : written;
    }
}
