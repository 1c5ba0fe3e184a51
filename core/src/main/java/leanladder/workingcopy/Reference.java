package leanladder.workingcopy;

import java.util.List;
import java.util.stream.Collectors;

/** Something that names a unit, an account or a group. */
public record Reference(Referrer by, String id, String name) {
    private static final int NAMED = 3;

    /** What names it. */
    public enum Referrer {
        POLICY("the policy "),
        PLAN("the plan "),
        RELEASE("the release of "),
        UNIT("the unit "),
        ACCOUNT(""),
        GROUP("the group "),
        WORKSPACE("the workspace "),
        HOSTING("the hosting "),
        SETTING("the setting ");

        private final String words;

        Referrer(String words) {
            this.words = words;
        }

        /** Whether it aims at what it names, as only access groups can be. */
        public boolean aims() {
            return compareTo(RELEASE) <= 0;
        }
    }

    /** What it is, in words: "the policy House rules". */
    public String words() {
        return by.words + name;
    }

    /** A few of them by name, and how many more. */
    public static String list(List<Reference> uses) {
        String some = uses.stream().limit(NAMED).map(Reference::words).collect(Collectors.joining(", "));
        return uses.size() <= NAMED ? some : some + " and " + (uses.size() - NAMED) + " more";
    }
}
