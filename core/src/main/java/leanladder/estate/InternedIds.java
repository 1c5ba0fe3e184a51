package leanladder.estate;

import java.util.AbstractList;
import java.util.List;
import java.util.RandomAccess;

/**
 * Ids that all stand in one table, each kept as its place there. Who has worked something out for each place of the table needs not
 * look the ids up again: of a large directory that would be a hundred million times.
 */
public final class InternedIds extends AbstractList<String> implements RandomAccess {
    private final List<String> table;
    private final int[] places;

    /**
     * Ids of a table.
     *
     * @param table whose entries never change; it may still grow
     * @param places in the table; not to be changed any more
     */
    public InternedIds(List<String> table, int[] places) {
        this.table = table;
        this.places = places;
    }

    /** The table itself, so that two lists can be seen to have the same one. */
    public List<String> table() {
        return table;
    }

    /** Where in the table the id of this position stands. */
    public int place(int position) {
        return places[position];
    }

    @Override
    public String get(int position) {
        return table.get(places[position]);
    }

    @Override
    public int size() {
        return places.length;
    }
}
