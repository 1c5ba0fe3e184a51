package leanladder.resolve;

import java.util.BitSet;
import java.util.List;
import leanladder.catalogue.Value;
import leanladder.estate.Statement;

/**
 * The statements of all policies on one setting, in the ranking of policies. What every climb asks of them stands in columns of their own:
 * whoever looked at the statements one by one would mostly wait for memory. Not changed once made.
 */
final class StatementColumns {
    static final StatementColumns NOTHING = new StatementColumns(List.of());

    private final List<RankedStatement> all;
    private final int[] ranks;
    private final BitSet caps = new BitSet();
    private final BitSet locks = new BitSet();

    StatementColumns(List<RankedStatement> all) {
        this.all = all;
        this.ranks = all.stream().mapToInt(RankedStatement::rank).toArray();
        for (int i = 0; i < ranks.length; i++)
            if (all.get(i).statement() instanceof Statement.Set set) locks.set(i, set.lock());
            else caps.set(i);
    }

    List<RankedStatement> all() {
        return all;
    }

    int size() {
        return ranks.length;
    }

    RankedStatement at(int index) {
        return all.get(index);
    }

    /** Where the policy of a statement stands among those of the estate, 0 the strongest. */
    int rank(int index) {
        return ranks[index];
    }

    boolean isCap(int index) {
        return caps.get(index);
    }

    boolean isLock(int index) {
        return locks.get(index);
    }

    Value value(int index) {
        return at(index).statement().value();
    }
}
