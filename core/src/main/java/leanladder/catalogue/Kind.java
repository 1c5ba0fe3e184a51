package leanladder.catalogue;

import java.util.Optional;

/** What an account stands for. */
public enum Kind {
    PERSON,
    ROOM,
    GUEST,
    SERVICE;

    /** The word of the estate file. */
    public String word() {
        return name().toLowerCase(java.util.Locale.ROOT);
    }

    /** The kind of that word, or empty. */
    public static Optional<Kind> of(String word) {
        for (Kind kind : values()) if (kind.word().equals(word)) return Optional.of(kind);
        return Optional.empty();
    }
}
