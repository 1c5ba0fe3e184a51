package leanladder.workingcopy;

/** What somebody must be allowed to do in order to publish an edit. */
public enum Duty {
    /** To write policies, assign and rank them. */
    POLICIES,
    /** To bring the catalogue up to what the vendor offers. */
    CATALOGUE,
    /** To edit people, units, groups and workspaces. */
    DIRECTORY,
    /** To edit licence plans: what was bought, and for whom. */
    SEATS,
    /** To say who may try what early, and when it opens to whom. */
    PREVIEWS,
    /** To give one's own word; nobody can for somebody else. */
    OWN_WORD
}
