package leanladder.catalogue;

/** How a tie of several statements on the deciding rung is settled (resolution.md, section 4). */
public enum Merge {
    RANKED,
    STRICTEST,
    LOOSEST,
    GATHER
}
