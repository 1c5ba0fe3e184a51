package leanladder.bench;

import java.util.ArrayList;
import java.util.List;

/** What is measured of a server over PostgreSQL: rows of the table, and marks, which count at 1,000,000 accounts. */
abstract class ServerBenchmark {
    final Table table;
    final SyntheticEstate made;
    final List<Thresholds> missed = new ArrayList<>();

    ServerBenchmark(Table table, SyntheticEstate made) {
        this.table = table;
        this.made = made;
    }

    static double timed(Runnable act) {
        long start = System.nanoTime();
        act.run();
        return (System.nanoTime() - start) / 1e9;
    }

    /** A time that must not be longer than wanted. */
    final void mark(String what, double seconds, double wanted) {
        double measured = Math.max(0, seconds);
        mark(what, Table.time(measured), Table.time(wanted), measured / wanted);
    }

    /** @param times how many times what is wanted was measured; beyond one the mark is missed */
    final void mark(String what, String measured, String wanted, double times) {
        table.row(what, measured, "mark " + wanted);
        if (made.accounts() == 1_000_000 && times > 1)
            missed.add(new Thresholds(
                    String.format("%,d in PostgreSQL: %s", made.accounts(), what), measured, wanted, times));
    }
}
