package leanladder.workingcopy;

import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import java.util.function.Predicate;
import leanladder.estate.Members;
import leanladder.json.Json;
import org.pcollections.HashTreePSet;
import org.pcollections.OrderedPMap;
import org.pcollections.PSet;

/**
 * The members of a group during edits: the original ones, the removed ones and the added ones. Immutable, like {@link PolicyDelta}. Queries and edits cost
 * the same for a group of any size.
 */
public final class MembershipDelta {
    private final Members base;
    private final Predicate<String> listed;
    private final PSet<String> removed;
    /** Texts of members in the order in which they came. */
    private final OrderedPMap<String, Boolean> added;

    private MembershipDelta(
            Members base, Predicate<String> listed, PSet<String> gone, OrderedPMap<String, Boolean> more) {
        this.base = base;
        this.listed = listed;
        this.removed = gone;
        this.added = more;
    }

    /**
     * The members of a group that nobody edited.
     *
     * @param listed whether an account of this id is among them
     */
    static MembershipDelta from(Members base, Predicate<String> listed) {
        return new MembershipDelta(base, listed, HashTreePSet.empty(), OrderedPMap.empty());
    }

    /** The members of a group that is new. */
    static MembershipDelta from(Members base) {
        Set<String> accounts = new HashSet<>(base.accounts());
        return from(base, accounts::contains);
    }

    /** Whether the group itself lists an account. */
    public boolean hasAccount(String id) {
        String text = "account:" + id;
        return isMore(text) || listed.test(id) && !removed.contains(text);
    }

    /** Whether the group itself lists another group. */
    public boolean hasGroup(String id) {
        String text = "group:" + id;
        return isMore(text) || base.groups().contains(id) && !removed.contains(text);
    }

    /** The groups that it lists. */
    public List<String> groups() {
        return members(base.groups(), "group:");
    }

    /** An ordered set would look through all of itself. */
    private boolean isMore(String text) {
        return added.get(text) != null;
    }

    /** Those among others that it does not list, each once. */
    public Members absentOf(Members others) {
        return new Members(
                others.accounts().stream()
                        .distinct()
                        .filter(account -> !hasAccount(account))
                        .toList(),
                others.groups().stream()
                        .distinct()
                        .filter(group -> !hasGroup(group))
                        .toList());
    }

    MembershipDelta with(Members others) {
        PSet<String> fewerGone = removed;
        OrderedPMap<String, Boolean> all = added;
        for (String text : (Iterable<String>) others.texts()::iterator) {
            if (removed.contains(text)) fewerGone = fewerGone.minus(text);
            else all = all.plus(text, true);
        }
        return new MembershipDelta(base, listed, fewerGone, all);
    }

    MembershipDelta without(Members others) {
        PSet<String> allGone = removed;
        OrderedPMap<String, Boolean> fewer = added;
        for (String text : (Iterable<String>) others.texts()::iterator) {
            if (isMore(text)) fewer = fewer.minus(text);
            else allGone = allGone.plus(text);
        }
        return new MembershipDelta(base, listed, allGone, fewer);
    }

    boolean isSame() {
        return removed.isEmpty() && added.isEmpty();
    }

    /** All of them; linear. */
    Members all() {
        return isSame() ? base : new Members(members(base.accounts(), "account:"), members(base.groups(), "group:"));
    }

    private List<String> members(List<String> of, String prefix) {
        if (isSame()) return of;
        List<String> members = new ArrayList<>(of.size());
        for (String id : of) if (removed.isEmpty() || !removed.contains(prefix + id)) members.add(id);
        for (String text : added.keySet()) if (text.startsWith(prefix)) members.add(text.substring(prefix.length()));
        return List.copyOf(members);
    }

    /** Writes them into the stored body of the group. */
    void writeTo(ObjectNode body) {
        if (isSame()) return;
        ArrayNode written = Json.NODES.arrayNode();
        body.path("members").forEach(m -> {
            if (!removed.contains(m.asText())) written.add(m);
        });
        added.keySet().forEach(written::add);
        body.set("members", written);
    }
}
