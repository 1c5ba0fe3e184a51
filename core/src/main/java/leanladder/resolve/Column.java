package leanladder.resolve;

import java.util.HashMap;
import java.util.List;
import java.util.Map;
import leanladder.catalogue.Value;
import org.jspecify.annotations.Nullable;
import org.roaringbitmap.RoaringBitmap;

/** The outcomes of one setting for all active accounts: a handful of outcomes, each with the accounts that have it. */
public final class Column {
    private final List<Segment<Outcome>> shares;
    private volatile @Nullable Map<Value, RoaringBitmap> inForce;

    Column(List<Segment<Outcome>> shares) {
        this.shares = List.copyOf(shares);
    }

    /** Different outcomes with disjoint accounts, together all active accounts. */
    public List<Segment<Outcome>> shares() {
        return shares;
    }

    /** The accounts by the value in force. Put together when first asked for, and kept. */
    public Map<Value, RoaringBitmap> inForce() {
        Map<Value, RoaringBitmap> known = inForce;
        if (known == null) {
            known = new HashMap<>();
            for (Segment<Outcome> segment : shares)
                known.merge(segment.what().value(), segment.accounts(), (a, b) -> RoaringBitmap.or(a, b));
            inForce = known;
        }
        return known;
    }

    /** The outcome of the account of this number; it must be active. */
    public Outcome of(int account) {
        for (Segment<Outcome> segment : shares) if (segment.accounts().contains(account)) return segment.what();
        throw new IllegalArgumentException("The account has no outcomes");
    }
}
