package leanladder.catalogue;

import com.fasterxml.jackson.databind.JsonNode;
import java.math.BigInteger;
import java.util.List;
import java.util.TreeSet;
import leanladder.json.CodePointOrder;
import leanladder.json.Json;

/** A value of a setting, in the one form in which values are compared (resolution.md, section 2). */
public sealed interface Value {
    /** The value as the estate file writes it. */
    JsonNode json();

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

    /** A set of texts, sorted by code point, without repeats. */
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
}
