package leanladder.estate;

import java.util.Optional;

/** Whom an assignment, a rule or an early opening names. A target is split at its first colon. */
public sealed interface Target {
    /** The target as the estate file writes it. */
    String text();

    /** The root unit. */
    record OrganisationTarget() implements Target {
        @Override
        public String text() {
            return "organisation";
        }
    }

    /** A unit and all below it. */
    record UnitTarget(String id) implements Target {
        @Override
        public String text() {
            return "unit:" + id;
        }
    }

    /** The members of a group, to any depth. */
    record GroupTarget(String id) implements Target {
        @Override
        public String text() {
            return "group:" + id;
        }
    }

    /** One account. */
    record AccountTarget(String id) implements Target {
        @Override
        public String text() {
            return "account:" + id;
        }
    }

    /** Whoever asks as if working in this workspace. */
    record WorkspaceTarget(String id) implements Target {
        @Override
        public String text() {
            return "workspace:" + id;
        }
    }

    /** Whoever asks as if working in a workspace that runs on this hosting. */
    record HostingTarget(String id) implements Target {
        @Override
        public String text() {
            return "hosting:" + id;
        }
    }

    /** Whether it is a place where accounts work, and not one or several of them. */
    default boolean isPlace() {
        return this instanceof WorkspaceTarget || this instanceof HostingTarget;
    }

    /** Reads a target, or gives empty when the text is none. */
    static Optional<Target> parse(String text) {
        if (text.equals("organisation")) return Optional.of(new OrganisationTarget());
        int colon = text.indexOf(':');
        if (colon < 0 || colon == text.length() - 1) return Optional.empty();
        String id = text.substring(colon + 1);
        return switch (text.substring(0, colon)) {
            case "unit" -> Optional.of(new UnitTarget(id));
            case "group" -> Optional.of(new GroupTarget(id));
            case "account" -> Optional.of(new AccountTarget(id));
            case "workspace" -> Optional.of(new WorkspaceTarget(id));
            case "hosting" -> Optional.of(new HostingTarget(id));
            default -> Optional.empty();
        };
    }

    /** Reads whom a question is about: a target, or {@code everyone}. */
    static Optional<Target> asked(String text) {
        return text.equals("everyone") ? Optional.of(new OrganisationTarget()) : parse(text);
    }
}
