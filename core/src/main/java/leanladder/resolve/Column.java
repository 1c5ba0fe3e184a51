package leanladder.resolve;

import java.util.HashMap;
import java.util.List;
import java.util.Map;
import leanladder.catalogue.Value;
import org.roaringbitmap.RoaringBitmap;

/** The outcomes of one setting for all active accounts: a handful of outcomes, each with the accounts that have it. */
public final class Column {
    private final List<Share<Outcome>> shares;
    private final Map<Value, RoaringBitmap> inForce = new HashMap<>();

    Column(List<Share<Outcome>> shares) {
        this.shares = List.copyOf(shares);
        for (Share<Outcome> share : shares)
            inForce.merge(share.what().value(), share.accounts(), (a, b) -> RoaringBitmap.or(a, b));
    }

    /** Different outcomes with disjoint accounts, together all active accounts. */
    public List<Share<Outcome>> shares() {
        return shares;
    }

    /** The accounts by the value in force. */
    public Map<Value, RoaringBitmap> inForce() {
        return inForce;
    }

    /** The outcome of the account of this number; it must be active. */
    public Outcome of(int account) {
        for (Share<Outcome> share : shares) if (share.accounts().contains(account)) return share.what();
        throw new IllegalArgumentException("The account has no outcomes");
    }
}
