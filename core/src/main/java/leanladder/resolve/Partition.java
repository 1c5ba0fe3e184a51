package leanladder.resolve;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.function.BiFunction;
import org.roaringbitmap.RoaringBitmap;

/** Accounts divided into disjoint shares that are refined step by step. */
final class Partition<T> {
    private List<Segment<T>> shares;

    Partition(List<Segment<T>> shares) {
        this.shares = shares;
    }

    static <T> Partition<T> whole(T what, RoaringBitmap accounts) {
        return new Partition<>(accounts.isEmpty() ? List.of() : List.of(new Segment<>(what, accounts)));
    }

    List<Segment<T>> shares() {
        return shares;
    }

    /** Gives those of every share that lie in the set another label; shares that get the same label are joined. */
    void split(RoaringBitmap set, java.util.function.Function<T, T> inside) {
        Map<T, RoaringBitmap> next = new LinkedHashMap<>();
        for (Segment<T> segment : shares) {
            if (!RoaringBitmap.intersects(segment.accounts(), set)) {
                put(next, segment.what(), segment.accounts());
                continue;
            }
            T label = inside.apply(segment.what());
            if (label.equals(segment.what())) {
                put(next, label, segment.accounts());
                continue;
            }
            put(next, label, RoaringBitmap.and(segment.accounts(), set));
            put(next, segment.what(), RoaringBitmap.andNot(segment.accounts(), set));
        }
        shares = shares(next);
    }

    /** Crosses every share with disjoint sets that cover it. */
    <S, R> Partition<R> cross(List<Segment<S>> others, BiFunction<T, S, R> join) {
        Map<R, RoaringBitmap> next = new LinkedHashMap<>();
        for (Segment<T> segment : shares)
            for (Segment<S> other : others)
                if (RoaringBitmap.intersects(segment.accounts(), other.accounts()))
                    put(
                            next,
                            join.apply(segment.what(), other.what()),
                            RoaringBitmap.and(segment.accounts(), other.accounts()));
        return new Partition<>(shares(next));
    }

    /** Gives every share another label; shares that get the same label are joined. */
    <R> Partition<R> map(java.util.function.Function<T, R> label) {
        Map<R, RoaringBitmap> next = new LinkedHashMap<>();
        for (Segment<T> segment : shares) put(next, label.apply(segment.what()), segment.accounts());
        return new Partition<>(shares(next));
    }

    private static <R> void put(Map<R, RoaringBitmap> into, R label, RoaringBitmap accounts) {
        if (!accounts.isEmpty()) into.merge(label, accounts, (a, b) -> RoaringBitmap.or(a, b));
    }

    private static <R> List<Segment<R>> shares(Map<R, RoaringBitmap> from) {
        List<Segment<R>> shares = new ArrayList<>(from.size());
        from.forEach((what, accounts) -> shares.add(new Segment<>(what, accounts)));
        return shares;
    }
}
