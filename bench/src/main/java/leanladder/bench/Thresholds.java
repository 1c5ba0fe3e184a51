package leanladder.bench;

/** A mark that was missed: what it is about, what was measured and what was wanted. */
record Thresholds(String what, String measured, String wanted, double by) {
    String print() {
        return String.format("%s: %s, wanted %s (%.1f times as much)", what, measured, wanted, by);
    }
}
