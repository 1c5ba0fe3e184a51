package leanladder.edit;

import java.util.List;
import java.util.Set;
import leanladder.json.JsonCursor;
import leanladder.workingcopy.Overlay;

/**
 * One thing that a change does, as it is written. Each kind of edit is a record; its components are the members of the JSON object beside
 * {@code kind}, see {@link EditForm}. What it touches and what undoes it follow from what {@link #apply} writes, see
 * {@link leanladder.workingcopy.Mutation}.
 */
public interface Edit {
    /**
     * Applies the edit to a working copy. What does not fit is reported as a defect; the caller then discards the working copy.
     *
     * @param on holds every entity that the components name
     * @param at the edit as it was sent, to report defects at its members
     * @return the edit with the ids that were given to what is new; itself, where none were
     */
    Edit apply(Overlay on, JsonCursor at);

    /**
     * The parts of the estate that it touches, as paths (see {@link ConflictPaths}). Two edits conflict when a path of one is, or leads to, a
     * path of the other. They need no estate: an edit of the journal may name what is gone.
     */
    Set<String> paths();

    /** Whether it leaves the same as another edit of its kind that touches the same parts, whichever comes first. */
    default boolean commutes(Edit other) {
        return false;
    }

    /** Ids of the accounts whose stored bodies {@link #apply} asks for; those of many edits are fetched together. */
    default List<String> accountsAskedFor() {
        return List.of();
    }
}
