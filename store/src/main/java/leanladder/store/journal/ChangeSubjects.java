package leanladder.store.journal;

import com.fasterxml.jackson.databind.JsonNode;
import java.util.Collection;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import java.util.TreeSet;
import leanladder.edit.session.EditKinds;
import leanladder.workingcopy.Duty;

/**
 * What a change is about: the parts of the estate that its edits name, the settings whose values it altered and the accounts for which
 * it did, as {@code policy:p1}, {@code setting:chat.private}, {@code account:mirela.osk}; and of what kind its edits are, as
 * {@code kind:seats}. All of it follows from the edits and the ripple that the journal holds.
 */
public final class ChangeSubjects {
    /** Stands for every subject: a change that has more than can be indexed. */
    public static final String ANY = "*";

    /** Stands for every account: a change that altered settings of more accounts than the journal lists. */
    public static final String ANY_ACCOUNT = "account:*";

    /** How many subjects of a change are indexed. */
    private static final int MOST = 2_000;

    private static final Set<String> NOUNS =
            Set.of("account", "unit", "group", "workspace", "hosting", "policy", "plan", "setting", "release");
    private static final Set<String> TARGETS = Set.of("account", "unit", "group", "workspace", "hosting");

    private final Set<String> found = new TreeSet<>();
    private final int most;

    private ChangeSubjects(int most) {
        this.most = most;
    }

    /** All subjects of a change. Costs a walk through its edits. */
    public static Set<String> of(JsonNode edits, JsonNode ripple) {
        return of(edits, ripple, Integer.MAX_VALUE);
    }

    /** @param most so many subjects are enough: with more, the walk ends */
    private static Set<String> of(JsonNode edits, JsonNode ripple, int most) {
        ChangeSubjects subjects = new ChangeSubjects(most);
        edits.forEach(subjects::edit);
        if (edits.isEmpty()) subjects.found.add("kind:automatic");
        ripple.path("moves").forEach(move -> subjects.add("setting", move.path("setting")));
        ripple.path("affected").forEach(account -> subjects.add("account", account));
        boolean unlisted = !ripple.path("affected").isArray()
                && (ripple.path("accounts").asInt() > 0
                        || !ripple.path("inWorkspaces").isEmpty());
        if (unlisted || ripple.isEmpty() && !edits.isEmpty()) subjects.found.add(ANY_ACCOUNT);
        return subjects.found;
    }

    /** The subjects under which a change is indexed: all, or {@link #ANY} where they are too many. */
    static List<String> indexed(JsonNode edits, JsonNode ripple) {
        Set<String> all = of(edits, ripple, MOST);
        return all.size() > MOST ? List.of(ANY) : List.copyOf(all);
    }

    /** Whether one of these is a subject. */
    public static boolean overlap(Set<String> subjects, Collection<String> wanted) {
        return wanted.stream().anyMatch(subjects::contains);
    }

    private void edit(JsonNode edit) {
        if (edit.path("kind").asText().equals("replace-estate")) {
            found.add(ANY);
            return;
        }
        for (Duty duty : EditKinds.rights(edit)) found.add("kind:" + duty.name().toLowerCase(Locale.ROOT));
        walk(edit);
    }

    private void walk(JsonNode node) {
        if (found.size() > most) return;
        if (node.isTextual()) target(node.asText());
        else if (node.isArray()) node.forEach(this::walk);
        else
            node.fields().forEachRemaining(member -> {
                String name = member.getKey();
                if (NOUNS.contains(name)) add(name, member.getValue());
                if (name.equals("accounts")) member.getValue().forEach(account -> add("account", account));
                walk(member.getValue());
            });
    }

    /** Takes in what a member names: by its id, or as a whole that has one. */
    private void add(String noun, JsonNode named) {
        JsonNode id = named.isObject() ? named.path(noun.equals("setting") ? "key" : "id") : named;
        if (id.isTextual() && !id.asText().isEmpty())
            found.add((noun.equals("release") ? "setting" : noun) + ":" + id.asText());
    }

    private void target(String text) {
        int colon = text.indexOf(':');
        if (colon > 0 && colon < text.length() - 1 && TARGETS.contains(text.substring(0, colon))) found.add(text);
    }
}
