package leanladder.edit;

import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.Optional;
import leanladder.workingcopy.Overlay;
import leanladder.workingcopy.WriteSet;

/**
 * One thing that a change does, read against an estate that it fits. Each kind of edit is one class, which says all that there is
 * to know of it, and one {@link EditKind} beside it.
 */
public interface Edit {
    /** What kind it is of. */
    EditKind kind();

    /** The edit as the journal keeps it: as it was sent, with the ids that were given. Not to be changed. */
    ObjectNode json();

    /** Alters the estate. */
    void apply(Overlay on);

    /** The edit that takes this one back, read off the estate before it is carried out; empty where there is nothing to take back. */
    Optional<ObjectNode> inverse(Overlay before);

    /** What it touches. */
    WriteSet footprint(Overlay before);
}
