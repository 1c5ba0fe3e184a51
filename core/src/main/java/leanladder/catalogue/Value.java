package leanladder.catalogue;

import com.fasterxml.jackson.databind.JsonNode;
import java.math.BigInteger;
import java.util.Collections;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.SortedMap;
import java.util.TreeMap;
import java.util.TreeSet;
import leanladder.json.CodePointOrder;
import leanladder.json.Json;

/** A value of a setting, in the one form in which values are compared (resolution.md, section 2). */
public sealed interface Value {
    /** The value as the estate file writes it. */
    JsonNode json();

    /** What a client is given whose user reads a language: of a text in several languages the one that a lookup finds. */
    default JsonNode delivered(Optional<String> language) {
        return json();
    }

    /** On or off. */
    record Switch(boolean on) implements Value {
        private static final Switch ON = new Switch(true);
        private static final Switch OFF = new Switch(false);

        /** One of the two, which all statements share. */
        public static Switch of(boolean on) {
            return on ? ON : OFF;
        }

        @Override
        public JsonNode json() {
            return Json.NODES.booleanNode(on);
        }
    }

    /** One of the listed options of a setting. */
    record Choice(String option) implements Value {
        @Override
        public JsonNode json() {
            return Json.NODES.textNode(option);
        }
    }

    /** A whole number, of any size. */
    record IntegerValue(BigInteger number) implements Value {
        @Override
        public JsonNode json() {
            return Json.NODES.numberNode(number);
        }
    }

    /** Any text. */
    record Text(String text) implements Value {
        @Override
        public JsonNode json() {
            return Json.NODES.textNode(text);
        }
    }

    /** A link by RFC 3986: http or https with a host, or mailto. */
    record Link(String uri) implements Value {
        @Override
        public JsonNode json() {
            return Json.NODES.textNode(uri);
        }
    }

    /** A set of texts, sorted by code point, without repeats: the items of a list, or the targets of a value of people. */
    record ListValue(List<String> items) implements Value {
        /** Brings any collection of texts into the one form. */
        public static ListValue of(Iterable<String> texts) {
            var sorted = new TreeSet<String>(CodePointOrder.TEXTS);
            texts.forEach(sorted::add);
            return new ListValue(List.copyOf(sorted));
        }

        @Override
        public JsonNode json() {
            var array = Json.NODES.arrayNode(items.size());
            items.forEach(array::add);
            return array;
        }
    }

    /** A text or link in several languages: by language tag, one of which is {@code *}; sorted by code point. */
    record LocalisedText(SortedMap<String, String> byTag) implements Value {
        /** The tag of the text that stands for every language without one of its own. */
        public static final String ANY = "*";

        /** Brings any map of texts into the one form. */
        public static LocalisedText of(Map<String, String> byTag) {
            var sorted = new TreeMap<String, String>(CodePointOrder.TEXTS);
            sorted.putAll(byTag);
            return new LocalisedText(Collections.unmodifiableSortedMap(sorted));
        }

        /**
         * The text that a client is given whose user reads a language: what a lookup (RFC 4647, section 3.4) finds, in the end that of
         * {@code *}.
         */
        public String lookUp(Optional<String> language) {
            Map<String, String> lower = new HashMap<>();
            byTag.forEach((tag, text) -> lower.put(tag.toLowerCase(Locale.ROOT), text));
            for (String range = language.orElse("").toLowerCase(Locale.ROOT); !range.isEmpty(); range = shorter(range))
                if (lower.containsKey(range)) return lower.get(range);
            return Objects.requireNonNull(byTag.get(ANY));
        }

        /** A range without its last subtag, nor the single letter or digit before it, which never stands last. */
        private static String shorter(String range) {
            int end = range.lastIndexOf('-');
            if (end > 1 && range.charAt(end - 2) == '-') end -= 2;
            return end < 0 ? "" : range.substring(0, end);
        }

        @Override
        public JsonNode delivered(Optional<String> language) {
            return Json.NODES.textNode(lookUp(language));
        }

        @Override
        public JsonNode json() {
            var object = Json.NODES.objectNode();
            byTag.forEach(object::put);
            return object;
        }
    }

    /** A picture, the content of which stands beside the estate; or none. */
    record Picture(Optional<Content> content) implements Value {
        /** No picture. */
        public static final Picture NONE = new Picture(Optional.empty());

        /**
         * What a picture is.
         *
         * @param sha256 of its content, in lower-case hexadecimal digits
         * @param media its media type, such as {@code image/png}
         * @param alt what it shows, for those who cannot see it
         */
        public record Content(String sha256, String media, String alt) {}

        @Override
        public JsonNode json() {
            if (content.isEmpty()) return Json.NODES.nullNode();
            Content shown = content.get();
            return Json.NODES
                    .objectNode()
                    .put("sha256", shown.sha256())
                    .put("media", shown.media())
                    .put("alt", shown.alt());
        }
    }
}
