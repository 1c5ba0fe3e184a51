package leanladder.workingcopy;

import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.List;
import java.util.Optional;
import java.util.function.Supplier;
import leanladder.estate.Members;
import leanladder.estate.Ring;
import leanladder.estate.Track;

/**
 * One primitive write to a working copy, with what stood there before. Every edit is made of these. What an edit touches and what undoes it are
 * derived from them, so an edit states neither.
 */
public sealed interface Mutation {
    /** What it touches. */
    WriteSet touched();

    /** A policy was added. */
    record PolicyAdded(String policy, WriteSet touched) implements Mutation {}

    /**
     * A policy was removed.
     *
     * @param below the policy that stood directly above it in the ranking
     * @param above the policy that stood directly below it
     */
    record PolicyRemoved(
            String policy, PolicyDelta was, Optional<String> below, Optional<String> above, WriteSet touched)
            implements Mutation {}

    /** A policy was moved in the ranking. @param above the policy above which it stood; empty where it was the last */
    record PolicyRanked(String policy, Optional<String> above, WriteSet touched) implements Mutation {}

    /** Members of a policy were set. @param was the policy without its statements and assignments, before */
    record PolicyAmended(String policy, ObjectNode members, ObjectNode was, WriteSet touched) implements Mutation {}

    /** A statement was put or removed. @param was the statement that it replaced */
    record StatementWritten(String policy, String setting, boolean cap, Optional<ObjectNode> was, WriteSet touched)
            implements Mutation {}

    /** An assignment was added; one that was there already is no mutation. */
    record AssignmentAdded(String policy, ObjectNode assignment, WriteSet touched) implements Mutation {}

    /** An assignment was removed. */
    record AssignmentRemoved(String policy, ObjectNode assignment, WriteSet touched) implements Mutation {}

    /** An entity was added. */
    record EntityAdded(EntityType<?> type, String id, WriteSet touched) implements Mutation {}

    /** An entity was removed. @param was its whole body; asks for the stored one */
    record EntityRemoved(EntityType<?> type, String id, Supplier<ObjectNode> was, WriteSet touched)
            implements Mutation {}

    /** Members of an entity were set. @param was its whole body before; asks for the stored one */
    record EntityAmended(EntityType<?> type, String id, ObjectNode members, Supplier<ObjectNode> was, WriteSet touched)
            implements Mutation {}

    /** Members joined a group; none of them was in it. */
    record MembersAdded(String group, Members who, WriteSet touched) implements Mutation {}

    /** Members left a group. */
    record MembersRemoved(String group, Members who, WriteSet touched) implements Mutation {}

    /**
     * The invitation of an account that waits for an answer was written or removed.
     *
     * @param to the member that names the preview, {@code ring} or {@code release}
     * @param was the invitation that waited before
     */
    record InvitationWritten(String account, String to, String what, Optional<ObjectNode> was, WriteSet touched)
            implements Mutation {}

    /** Members of the catalogue beside its settings were set. @param was the catalogue before, without its settings */
    record FrameAmended(ObjectNode members, ObjectNode was, WriteSet touched) implements Mutation {}

    /** The further tracks were replaced. */
    record TracksReplaced(List<Track> was, List<Track> now, WriteSet touched) implements Mutation {}

    /** The preview rings were replaced. */
    record RingsReplaced(List<Ring> was, List<Ring> now, WriteSet touched) implements Mutation {}
}
