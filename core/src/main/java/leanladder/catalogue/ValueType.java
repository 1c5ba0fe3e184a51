package leanladder.catalogue;

import com.fasterxml.jackson.databind.JsonNode;
import java.math.BigInteger;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Consumer;
import java.util.function.Predicate;
import java.util.regex.Pattern;

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

    /** Any text, or one for each language. */
    record TextType(boolean byLanguage) implements ValueType {
        @Override
        public String name() {
            return "text";
        }

        @Override
        public Optional<Value> read(JsonNode node, Consumer<String> complain) {
            if (byLanguage) return localised(node, text -> true, "texts", complain);
            if (node.isTextual()) return Optional.of(new Value.Text(node.textValue()));
            complain.accept("must be a text");
            return Optional.empty();
        }

        @Override
        public boolean holdsAllOf(ValueType other) {
            return equals(other);
        }
    }

    /** A link by RFC 3986, or one for each language. */
    record LinkType(boolean byLanguage) implements ValueType {
        @Override
        public String name() {
            return "link";
        }

        @Override
        public Optional<Value> read(JsonNode node, Consumer<String> complain) {
            if (byLanguage) return localised(node, UriSyntax::isLink, "links", complain);
            if (node.isTextual() && UriSyntax.isLink(node.textValue()))
                return Optional.of(new Value.Link(node.textValue()));
            complain.accept("must be a link: http or https with a host, or mailto, written as RFC 3986 says");
            return Optional.empty();
        }

        @Override
        public boolean holdsAllOf(ValueType other) {
            return equals(other);
        }
    }

    /** Reads an object from language tags to texts. */
    private static Optional<Value> localised(
            JsonNode node, Predicate<String> fits, String what, Consumer<String> complain) {
        if (!node.isObject()) {
            complain.accept("must be an object from language tags to " + what);
            return Optional.empty();
        }
        Map<String, String> texts = new HashMap<>();
        Set<String> folded = new HashSet<>();
        for (var member : node.properties()) {
            String tag = member.getKey();
            String problem = null;
            if (!tag.equals(Value.LocalisedText.ANY) && !LanguageTag.isWellFormed(tag))
                problem = "has the member \"" + tag + "\", which is no language tag (BCP 47)";
            else if (!folded.add(tag.toLowerCase(Locale.ROOT)))
                problem = "names the language \"" + tag + "\" twice; tags do not differ by case";
            else if (!member.getValue().isTextual()
                    || !fits.test(member.getValue().textValue()))
                problem = "must hold " + what + " only, but what stands at \"" + tag + "\" is none";
            if (problem != null) {
                complain.accept(problem);
                return Optional.empty();
            }
            texts.put(tag, member.getValue().textValue());
        }
        if (texts.containsKey(Value.LocalisedText.ANY)) return Optional.of(Value.LocalisedText.of(texts));
        complain.accept("must have a member \"*\", for every language that is not named");
        return Optional.empty();
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

    /** A set of targets: the organisation, units, groups and accounts. Whether what they name exists is checked elsewhere. */
    record PeopleType() implements ValueType {
        private static final List<String> NAMED = List.of("unit:", "group:", "account:");

        @Override
        public String name() {
            return "people";
        }

        @Override
        public Optional<Value> read(JsonNode node, Consumer<String> complain) {
            var targets = new ArrayList<String>();
            boolean fits = node.isArray();
            for (int i = 0; fits && i < node.size(); i++) {
                String target = node.get(i).isTextual() ? node.get(i).textValue() : "";
                fits = target.equals("organisation")
                        || NAMED.stream().anyMatch(n -> target.startsWith(n) && target.length() > n.length());
                targets.add(target);
            }
            if (fits) return Optional.of(Value.ListValue.of(targets));
            complain.accept("must be a list of organisation, unit:ID, group:ID and account:ID");
            return Optional.empty();
        }

        @Override
        public boolean holdsAllOf(ValueType other) {
            return other instanceof PeopleType;
        }
    }

    /** A picture, or none. Whether its content is there is checked elsewhere. */
    record PictureType() implements ValueType {
        private static final Pattern SHA256 = Pattern.compile("[0-9a-f]{64}");

        /** The media types that a picture can have. */
        public static final Set<String> MEDIA = Set.of("image/png", "image/jpeg", "image/webp", "image/svg+xml");

        @Override
        public String name() {
            return "picture";
        }

        @Override
        public Optional<Value> read(JsonNode node, Consumer<String> complain) {
            if (node.isNull()) return Optional.of(Value.Picture.NONE);
            String sha256 = node.path("sha256").asText("");
            String media = node.path("media").asText("");
            JsonNode alt = node.path("alt");
            if (SHA256.matcher(sha256).matches() && MEDIA.contains(media) && (alt.isMissingNode() || alt.isTextual()))
                return Optional.of(
                        new Value.Picture(Optional.of(new Value.Picture.Content(sha256, media, alt.asText("")))));
            complain.accept(
                    "must be null, or a picture: \"sha256\" in 64 lower-case hexadecimal digits, \"media\" (image/png,"
                            + " image/jpeg, image/webp or image/svg+xml) and \"alt\"");
            return Optional.empty();
        }

        @Override
        public boolean holdsAllOf(ValueType other) {
            return other instanceof PictureType;
        }
    }
}
