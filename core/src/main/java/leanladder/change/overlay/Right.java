package leanladder.change.overlay;

/** What somebody must be allowed to do in order to publish an edit. */
public enum Right {
    /** To write policies, assign and rank them. */
    POLICIES,
    /** To edit people, units and groups. */
    DIRECTORY
}
