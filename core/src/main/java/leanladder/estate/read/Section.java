package leanladder.estate.read;

import java.util.Arrays;
import java.util.Optional;

/**
 * The parts of the estate file that are lists without an order of their own. Each element is a part with a key; what
 * remains of the file when these lists are emptied is its frame.
 */
public enum Section {
    UNITS("units", "id"),
    ACCOUNTS("accounts", "id"),
    GROUPS("groups", "id"),
    WORKSPACES("workspaces", "id"),
    HOSTINGS("hostings", "id"),
    SETTINGS("settings", "key"),
    POLICIES("policies", "id"),
    PLANS("plans", "id"),
    RELEASES("releases", "setting"),
    FEEDBACK("feedback", "id");

    private final String member;
    private final String key;

    Section(String member, String key) {
        this.member = member;
        this.key = key;
    }

    /** The member of the file (of its catalogue, for settings) that holds the list. */
    public String member() {
        return member;
    }

    /** The member of an element that tells it from the others. */
    public String key() {
        return key;
    }

    /** The top-level list of this name, or empty; settings are not top-level. */
    static Optional<Section> topLevel(String member) {
        return Arrays.stream(values())
                .filter(s -> s != SETTINGS && s.member.equals(member))
                .findFirst();
    }
}
