package leanladder.reach;

/**
 * The height on which a statement stands. Rungs sort themselves from low to high (resolution.md, section 3); every depth of
 * the unit tree is a rung of its own.
 *
 * @param depth on a unit rung, how far below the root the unit is, 1 or more; elsewhere 0
 */
public record Rung(RungKind kind, int depth) implements Comparable<Rung> {
    public static final Rung BUILTIN = new Rung(RungKind.BUILTIN, 0);
    public static final Rung ORGANISATION = new Rung(RungKind.ORGANISATION, 0);
    public static final Rung GROUP = new Rung(RungKind.GROUP, 0);
    public static final Rung HOSTING = new Rung(RungKind.HOSTING, 0);
    public static final Rung WORKSPACE = new Rung(RungKind.WORKSPACE, 0);
    public static final Rung PERSON = new Rung(RungKind.PERSON, 0);

    public Rung {
        if (depth < 0 || (depth > 0) != (kind == RungKind.UNIT))
            throw new IllegalArgumentException("No rung " + kind + " has depth " + depth);
    }

    /** The rung of a unit this far below the root; the root itself is the organisation. */
    public static Rung ofUnit(int depth) {
        return depth == 0 ? ORGANISATION : new Rung(RungKind.UNIT, depth);
    }

    @Override
    public int compareTo(Rung other) {
        int higher = kind.compareTo(other.kind);
        return higher != 0 ? higher : Integer.compare(depth, other.depth);
    }
}
