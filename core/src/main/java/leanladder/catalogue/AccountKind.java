package leanladder.catalogue;

import com.fasterxml.jackson.annotation.JsonValue;
import java.util.Arrays;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import java.util.stream.Collectors;

/** What an account stands for. */
public enum AccountKind {
    PERSON,
    ROOM,
    GUEST,
    SERVICE;

    /** The kinds by their words in the estate file. */
    public static final Map<String, AccountKind> BY_WORD =
            Arrays.stream(values()).collect(Collectors.toUnmodifiableMap(AccountKind::word, Function.identity()));

    /** The word of the estate file. */
    @JsonValue
    public String word() {
        return name().toLowerCase(Locale.ROOT);
    }

    /** The kind of that word, or empty. */
    public static Optional<AccountKind> parse(String word) {
        return Optional.ofNullable(BY_WORD.get(word));
    }
}
