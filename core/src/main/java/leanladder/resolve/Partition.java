package leanladder.resolve;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.function.BiFunction;
import org.roaringbitmap.RoaringBitmap;

/** Accounts divided into disjoint shares that are refined step by step. */
final class Partition<T> {
    private List<Share<T>> shares;

    Partition(List<Share<T>> shares) {
        this.shares = shares;
    }

    static <T> Partition<T> whole(T what, RoaringBitmap accounts) {
        return new Partition<>(accounts.isEmpty() ? List.of() : List.of(new Share<>(what, accounts)));
    }

    List<Share<T>> shares() {
        return shares;
    }

    /** Gives those of every share that lie in the set another label; shares that get the same label are joined. */
    void split(RoaringBitmap set, java.util.function.Function<T, T> inside) {
        Map<T, RoaringBitmap> next = new LinkedHashMap<>();
        for (Share<T> share : shares) {
            if (!RoaringBitmap.intersects(share.accounts(), set)) {
                put(next, share.what(), share.accounts());
                continue;
            }
            T label = inside.apply(share.what());
            if (label.equals(share.what())) {
                put(next, label, share.accounts());
                continue;
            }
            put(next, label, RoaringBitmap.and(share.accounts(), set));
            put(next, share.what(), RoaringBitmap.andNot(share.accounts(), set));
        }
        shares = shares(next);
    }

    /** Crosses every share with disjoint sets that cover it. */
    <S, R> Partition<R> cross(List<Share<S>> others, BiFunction<T, S, R> join) {
        Map<R, RoaringBitmap> next = new LinkedHashMap<>();
        for (Share<T> share : shares)
            for (Share<S> other : others)
                if (RoaringBitmap.intersects(share.accounts(), other.accounts()))
                    put(
                            next,
                            join.apply(share.what(), other.what()),
                            RoaringBitmap.and(share.accounts(), other.accounts()));
        return new Partition<>(shares(next));
    }

    /** Gives every share another label; shares that get the same label are joined. */
    <R> Partition<R> map(java.util.function.Function<T, R> label) {
        Map<R, RoaringBitmap> next = new LinkedHashMap<>();
        for (Share<T> share : shares) put(next, label.apply(share.what()), share.accounts());
        return new Partition<>(shares(next));
    }

    private static <R> void put(Map<R, RoaringBitmap> into, R label, RoaringBitmap accounts) {
        if (!accounts.isEmpty()) into.merge(label, accounts, (a, b) -> RoaringBitmap.or(a, b));
    }

    private static <R> List<Share<R>> shares(Map<R, RoaringBitmap> from) {
        List<Share<R>> shares = new ArrayList<>(from.size());
        from.forEach((what, accounts) -> shares.add(new Share<>(what, accounts)));
        return shares;
    }
}
