package leanladder.json;

import java.util.AbstractList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.RandomAccess;

/**
 * A list that never changes. One that is made of it by replacing some entries shares with it all stretches in which none is
 * replaced, so that a million entries, altered one by one again and again, cost a few thousand each time. Entries may be null.
 */
public final class PersistentList<T> extends AbstractList<T> implements RandomAccess {
    private static final int BITS = 10;
    private static final int STRETCH = 1 << BITS;

    private final Object[][] stretches;
    private final int size;

    private PersistentList(Object[][] stretches, int size) {
        this.stretches = stretches;
        this.size = size;
    }

    /** A list of the same entries. Linear, unless it is such a list already. */
    public static <T> PersistentList<T> of(List<T> entries) {
        if (entries instanceof PersistentList<T> shared) return shared;
        return of(entries.toArray());
    }

    private static <T> PersistentList<T> of(Object[] entries) {
        Object[][] stretches = new Object[(entries.length + STRETCH - 1) / STRETCH][];
        for (int s = 0; s < stretches.length; s++)
            stretches[s] = Arrays.copyOfRange(entries, s << BITS, Math.min(entries.length, s + 1 << BITS));
        return new PersistentList<>(stretches, entries.length);
    }

    /**
     * The same list with some entries replaced, and others after its end. Costs a copy of the stretches that these lie in.
     *
     * @param replaced by position
     */
    public PersistentList<T> with(Map<Integer, T> replaced, List<T> added) {
        int longer = size + added.size();
        Object[][] own = Arrays.copyOf(stretches, (longer + STRETCH - 1) / STRETCH);
        boolean[] copied = new boolean[own.length];
        replaced.forEach((position, entry) -> own(own, copied, position, longer)[position & STRETCH - 1] = entry);
        for (int i = 0; i < added.size(); i++)
            own(own, copied, size + i, longer)[size + i & STRETCH - 1] = added.get(i);
        return new PersistentList<>(own, longer);
    }

    private static Object[] own(Object[][] stretches, boolean[] copied, int position, int size) {
        int s = position >> BITS;
        if (!copied[s]) {
            int length = Math.min(STRETCH, size - (s << BITS));
            stretches[s] = stretches[s] == null ? new Object[length] : Arrays.copyOf(stretches[s], length);
            copied[s] = true;
        }
        return stretches[s];
    }

    @Override
    @SuppressWarnings("unchecked")
    public T get(int position) {
        return (T) stretches[position >> BITS][position & STRETCH - 1];
    }

    @Override
    public int size() {
        return size;
    }

    @Override
    public Object[] toArray() {
        Object[] all = new Object[size];
        for (int s = 0; s < stretches.length; s++)
            System.arraycopy(stretches[s], 0, all, s << BITS, stretches[s].length);
        return all;
    }
}
