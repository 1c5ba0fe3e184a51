package leanladder.catalogue;

import com.fasterxml.jackson.databind.JsonNode;
import java.math.BigInteger;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.Consumer;

/** What values a setting takes (resolution.md, section 2). */
public sealed interface ValueType {
    /** The type's name in the estate file. */
    String name();

    /**
     * Reads a value of this type.
     *
     * @param complain is told, as the end of a sentence that starts with the value's place, why the node does not fit
     * @return the value, or empty when it does not fit
     */
    Optional<Value> read(JsonNode node, Consumer<String> complain);

    /** Whether every value of the other type is a value of this one, so that a default of this may follow that. */
    boolean holdsAllOf(ValueType other);

    /** Whether a value stands in the order of strictness of a setting of this type, which a value that it offered once may not. */
    default boolean orders(Value value) {
        return false;
    }

    /** On or off. */
    record SwitchType() implements ValueType {
        @Override
        public String name() {
            return "switch";
        }

        @Override
        public Optional<Value> read(JsonNode node, Consumer<String> complain) {
            if (node.isBoolean()) return Optional.of(Value.Switch.of(node.booleanValue()));
            complain.accept("must be true or false, because the setting is a switch");
            return Optional.empty();
        }

        @Override
        public boolean holdsAllOf(ValueType other) {
            return other instanceof SwitchType;
        }

        @Override
        public boolean orders(Value value) {
            return value instanceof Value.Switch;
        }
    }

    /** One of these options, strictest first where the setting is ordered. */
    record ChoiceType(List<String> options) implements ValueType {
        @Override
        public String name() {
            return "choice";
        }

        @Override
        public Optional<Value> read(JsonNode node, Consumer<String> complain) {
            int option = node.isTextual() ? options.indexOf(node.textValue()) : -1;
            if (option >= 0) return Optional.of(new Value.Choice(options.get(option)));
            complain.accept("must be one of the setting's options: " + String.join(", ", options));
            return Optional.empty();
        }

        @Override
        public boolean orders(Value value) {
            return value instanceof Value.Choice choice && options.contains(choice.option());
        }

        @Override
        public boolean holdsAllOf(ValueType other) {
            return other instanceof ChoiceType choice && options.containsAll(choice.options);
        }
    }

    /** A whole number between min and max, both included. */
    record NumberType(BigInteger min, BigInteger max) implements ValueType {
        @Override
        public String name() {
            return "number";
        }

        @Override
        public Optional<Value> read(JsonNode node, Consumer<String> complain) {
            if (!node.isIntegralNumber()) {
                complain.accept("must be a whole number, written without fraction or exponent");
                return Optional.empty();
            }
            BigInteger number = node.bigIntegerValue();
            if (number.compareTo(min) < 0 || number.compareTo(max) > 0) {
                complain.accept("must lie between " + min + " and " + max);
                return Optional.empty();
            }
            return Optional.of(new Value.IntegerValue(number));
        }

        @Override
        public boolean orders(Value value) {
            return value instanceof Value.IntegerValue;
        }

        @Override
        public boolean holdsAllOf(ValueType other) {
            return other instanceof NumberType number
                    && min.compareTo(number.min) <= 0
                    && max.compareTo(number.max) >= 0;
        }
    }

    /** Any text. */
    record TextType() implements ValueType {
        @Override
        public String name() {
            return "text";
        }

        @Override
        public Optional<Value> read(JsonNode node, Consumer<String> complain) {
            if (node.isTextual()) return Optional.of(new Value.Text(node.textValue()));
            complain.accept("must be a text");
            return Optional.empty();
        }

        @Override
        public boolean holdsAllOf(ValueType other) {
            return other instanceof TextType;
        }
    }

    /** A link by RFC 3986. */
    record LinkType() implements ValueType {
        @Override
        public String name() {
            return "link";
        }

        @Override
        public Optional<Value> read(JsonNode node, Consumer<String> complain) {
            if (node.isTextual() && UriSyntax.isLink(node.textValue()))
                return Optional.of(new Value.Link(node.textValue()));
            complain.accept("must be a link: http or https with a host, or mailto, written as RFC 3986 says");
            return Optional.empty();
        }

        @Override
        public boolean holdsAllOf(ValueType other) {
            return other instanceof LinkType;
        }
    }

    /** A set of texts, none of them empty. */
    record ListType() implements ValueType {
        @Override
        public String name() {
            return "list";
        }

        @Override
        public Optional<Value> read(JsonNode node, Consumer<String> complain) {
            var items = new ArrayList<String>();
            boolean fits = node.isArray();
            for (int i = 0; fits && i < node.size(); i++) {
                fits = node.get(i).isTextual() && !node.get(i).textValue().isEmpty();
                if (fits) items.add(node.get(i).textValue());
            }
            if (fits) return Optional.of(Value.ListValue.of(items));
            complain.accept("must be a list of texts, none of them empty");
            return Optional.empty();
        }

        @Override
        public boolean holdsAllOf(ValueType other) {
            return other instanceof ListType;
        }
    }
}
