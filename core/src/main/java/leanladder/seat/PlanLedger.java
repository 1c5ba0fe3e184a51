package leanladder.seat;

import java.time.Instant;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import leanladder.estate.Plan;
import leanladder.reach.Directory;
import org.pcollections.HashTreePMap;
import org.pcollections.PMap;
import org.roaringbitmap.PeekableIntIterator;
import org.roaringbitmap.RoaringBitmap;

/**
 * The ledger of one plan: who holds a seat, and since when. Immutable. Accounts are stored by number, so that a million holders are a set and two
 * columns. Seats granted after the columns were written are stored beside them, at ten times the memory per seat. Granting a seat costs a copy of the
 * set, until there are so many beside the columns that these are written again.
 */
public final class PlanLedger {
    /** The page of a plan of which nobody holds a seat. */
    public static final PlanLedger EMPTY =
            new PlanLedger(new RoaringBitmap(), new RoaringBitmap(), new long[0], new int[0], HashTreePMap.empty());

    /** As many seats may always stand beside the columns, and one more for every {@link #FOR_EACH} in them. */
    private static final int BESIDE = 64;

    private static final int FOR_EACH = 8;

    private final RoaringBitmap holders;
    /** The accounts of the columns, in the order of their numbers. */
    private final RoaringBitmap first;

    private final long[] seconds;
    private final int[] nanos;
    private final PMap<Integer, Instant> later;

    private PlanLedger(
            RoaringBitmap holders, RoaringBitmap first, long[] seconds, int[] nanos, PMap<Integer, Instant> later) {
        this.holders = holders;
        this.first = first;
        this.seconds = seconds;
        this.nanos = nanos;
        this.later = later;
    }

    /** A page as a file lists it; whoever it names exists. Linear, but for sorting. */
    static PlanLedger from(List<Plan.Holder> listed, Directory directory) {
        if (listed.isEmpty()) return EMPTY;
        long[] order = new long[listed.size()];
        for (int i = 0; i < order.length; i++)
            order[i] = (long) directory.number(listed.get(i).account()) << Integer.SIZE | i;
        Arrays.parallelSort(order);
        int[] numbers = new int[order.length];
        long[] seconds = new long[order.length];
        int[] nanos = new int[order.length];
        for (int i = 0; i < order.length; i++) {
            Instant granted = listed.get((int) order[i]).granted();
            numbers[i] = (int) (order[i] >>> Integer.SIZE);
            seconds[i] = granted.getEpochSecond();
            nanos[i] = granted.getNano();
        }
        RoaringBitmap holders = RoaringBitmap.bitmapOf(numbers);
        return new PlanLedger(holders, holders, seconds, nanos, HashTreePMap.empty());
    }

    /** Everyone who holds a seat. Not to be changed. */
    public RoaringBitmap holders() {
        return holders;
    }

    /** Since when the account of this number holds its seat; empty when it holds none. */
    public Optional<Instant> granted(int account) {
        if (!holders.contains(account)) return Optional.empty();
        Instant since = later.get(account);
        if (since != null) return Optional.of(since);
        int place = first.rank(account) - 1;
        return Optional.of(Instant.ofEpochSecond(seconds[place], nanos[place]));
    }

    /** The page with other holders, each since an instant of its own. */
    PlanLedger restored(Map<Integer, Instant> given, RoaringBitmap returned) {
        RoaringBitmap others = RoaringBitmap.andNot(holders, returned);
        PMap<Integer, Instant> granted = later;
        for (int account : returned) granted = granted.minus(account);
        for (int account : given.keySet()) others.add(account);
        return new PlanLedger(others, first, seconds, nanos, granted.plusAll(given));
    }

    /** The page after seats passed on at an instant. */
    PlanLedger moved(RoaringBitmap given, RoaringBitmap returned, Instant at) {
        if (given.isEmpty() && returned.isEmpty()) return this;
        RoaringBitmap after = RoaringBitmap.andNot(holders, returned);
        after.or(given);
        if (later.size() + given.getCardinality() > BESIDE + seconds.length / FOR_EACH)
            return written(after, given, at);
        PMap<Integer, Instant> granted = later;
        for (int account : returned) granted = granted.minus(account);
        for (int account : given) granted = granted.plus(account, at);
        return new PlanLedger(after, first, seconds, nanos, granted);
    }

    /** The page of these holders with columns of all of them. Linear in those here and there. */
    private PlanLedger written(RoaringBitmap after, RoaringBitmap given, Instant at) {
        long[] since = new long[after.getCardinality()];
        int[] fractions = new int[since.length];
        PeekableIntIterator known = first.getIntIterator();
        int place = 0;
        int to = 0;
        for (int account : after) {
            for (; known.hasNext() && known.peekNext() < account; place++) known.next();
            Instant beside = given.contains(account) ? at : later.get(account);
            since[to] = beside == null ? seconds[place] : beside.getEpochSecond();
            fractions[to++] = beside == null ? nanos[place] : beside.getNano();
        }
        return new PlanLedger(after, after, since, fractions, HashTreePMap.empty());
    }
}
