package leanladder.change;

import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.Optional;
import leanladder.estate.Assignment;
import leanladder.estate.Statement;

/** One thing that a change does to one policy. */
public sealed interface Edit {
    /** The id of the policy that is edited, or comes to exist. */
    String policy();

    /** A new policy; it stands last in the ranking, or directly below one policy or above another. */
    record AddPolicy(String policy, ObjectNode body, Optional<String> below, Optional<String> above) implements Edit {}

    /** Takes a policy away. */
    record RemovePolicy(String policy) implements Edit {}

    /** Changes what a policy is beside statements and assignments: name, state, description; null takes a member away. */
    record AmendPolicy(String policy, ObjectNode members) implements Edit {}

    /** Makes a policy say something on a setting, in place of what it said in the same way (set or cap) before. */
    record PutStatement(String policy, Statement statement, ObjectNode body) implements Edit {}

    /** Makes a policy silent on a setting, for one way of speaking. */
    record RemoveStatement(String policy, String setting, boolean cap) implements Edit {}

    /** Adds an assignment; one that is there already stays as it is. */
    record PutAssignment(String policy, Assignment assignment, ObjectNode body) implements Edit {}

    /** Takes an assignment away. */
    record RemoveAssignment(String policy, Assignment assignment) implements Edit {}

    /** Moves a policy in the ranking: directly above another, or to the end. */
    record RankPolicy(String policy, Optional<String> above) implements Edit {}
}
