package leanladder.estate;

import java.util.Optional;

/** Whom an assignment, a rule or an early opening names. A target is split at its first colon. */
public sealed interface Target {
    /** The target as the estate file writes it. */
    String text();

    /** The root unit. */
    record Whole() implements Target {
        @Override
        public String text() {
            return "organisation";
        }
    }

    /** A unit and all below it. */
    record OfUnit(String id) implements Target {
        @Override
        public String text() {
            return "unit:" + id;
        }
    }

    /** The members of a group, to any depth. */
    record OfGroup(String id) implements Target {
        @Override
        public String text() {
            return "group:" + id;
        }
    }

    /** One account. */
    record OfAccount(String id) implements Target {
        @Override
        public String text() {
            return "account:" + id;
        }
    }

    /** Whoever asks as if working in this workspace. */
    record OfWorkspace(String id) implements Target {
        @Override
        public String text() {
            return "workspace:" + id;
        }
    }

    /** Reads a target, or gives empty when the text is none. */
    static Optional<Target> of(String text) {
        if (text.equals("organisation")) return Optional.of(new Whole());
        int colon = text.indexOf(':');
        if (colon < 0 || colon == text.length() - 1) return Optional.empty();
        String id = text.substring(colon + 1);
        return switch (text.substring(0, colon)) {
            case "unit" -> Optional.of(new OfUnit(id));
            case "group" -> Optional.of(new OfGroup(id));
            case "account" -> Optional.of(new OfAccount(id));
            case "workspace" -> Optional.of(new OfWorkspace(id));
            default -> Optional.empty();
        };
    }

    /** Reads whom a question is about: a target, or {@code everyone}. */
    static Optional<Target> asked(String text) {
        return text.equals("everyone") ? Optional.of(new Whole()) : of(text);
    }
}
