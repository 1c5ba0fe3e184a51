package leanladder.change;

import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.List;
import java.util.Optional;
import leanladder.estate.Assignment;
import leanladder.estate.Members;
import leanladder.estate.Statement;
import leanladder.estate.read.Section;

/** One thing that a change does. */
public sealed interface Edit {
    /** An edit of one policy. */
    sealed interface OfPolicy extends Edit {
        /** The id of the policy that is edited, or comes to exist. */
        String policy();
    }

    /** A new policy; it stands last in the ranking, or directly below one policy or above another. */
    record AddPolicy(String policy, ObjectNode body, Optional<String> below, Optional<String> above)
            implements OfPolicy {}

    /** Takes a policy away. */
    record RemovePolicy(String policy) implements OfPolicy {}

    /** Changes what a policy is beside statements and assignments: name, state, description; null takes a member away. */
    record AmendPolicy(String policy, ObjectNode members) implements OfPolicy {}

    /** Makes a policy say something on a setting, in place of what it said in the same way (set or cap) before. */
    record PutStatement(String policy, Statement statement, ObjectNode body) implements OfPolicy {}

    /** Makes a policy silent on a setting, for one way of speaking. */
    record RemoveStatement(String policy, String setting, boolean cap) implements OfPolicy {}

    /** Adds an assignment; one that is there already stays as it is. */
    record PutAssignment(String policy, Assignment assignment, ObjectNode body) implements OfPolicy {}

    /** Takes an assignment away. */
    record RemoveAssignment(String policy, Assignment assignment) implements OfPolicy {}

    /** Moves a policy in the ranking: directly above another, or to the end. */
    record RankPolicy(String policy, Optional<String> above) implements OfPolicy {}

    /** An edit of one unit, account or group. */
    sealed interface OfDirectory extends Edit {
        /** One of {@link Section#UNITS}, {@link Section#ACCOUNTS}, {@link Section#GROUPS}. */
        Section section();

        /** The id of the unit, account or group. */
        String id();
    }

    /** A new unit, account or group. */
    record AddPart(Section section, String id, ObjectNode body) implements OfDirectory {}

    /** Changes members of a unit, account or group; null takes a member away. */
    record AmendPart(Section section, String id, ObjectNode members) implements OfDirectory {}

    /** Takes a unit, account or group away that nothing names any more. */
    record RemovePart(Section section, String id) implements OfDirectory {}

    /**
     * Adds members to a group.
     *
     * @param who only those who are not in it yet
     */
    record PutMembers(String id, Members who) implements OfDirectory {
        @Override
        public Section section() {
            return Section.GROUPS;
        }
    }

    /** Takes members out of a group. */
    record RemoveMembers(String id, Members who) implements OfDirectory {
        @Override
        public Section section() {
            return Section.GROUPS;
        }
    }

    /**
     * Several edits that count as one: they are carried out together or not at all, and undone together.
     *
     * @param source where they come from, such as a file's name; may be empty
     */
    record Batch(String source, List<Edit> edits) implements Edit {}
}
