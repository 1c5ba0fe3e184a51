package leanladder.reach;

/** Many numbers below a bound, in two bytes each where the bound allows it. */
final class PackedIntArray {
    private final char[] narrow;
    private final int[] wide;

    /**
     * So many zeros.
     *
     * @param bound every number will be below it
     */
    PackedIntArray(int size, int bound) {
        boolean fits = bound <= 1 << Character.SIZE;
        narrow = new char[fits ? size : 0];
        wide = new int[fits ? 0 : size];
    }

    void set(int at, int number) {
        if (wide.length > 0) wide[at] = number;
        else narrow[at] = (char) number;
    }

    int get(int at) {
        return wide.length > 0 ? wide[at] : narrow[at];
    }
}
