package leanladder.reach;

import java.text.CollationKey;
import java.text.Collator;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collections;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Objects;
import leanladder.estate.Account;
import leanladder.json.CodePointOrder;
import org.roaringbitmap.RoaringBitmap;

/**
 * Accounts by display name, as a dictionary of British English orders them, and by id where names are the same.
 *
 * <p>To compare two names as a dictionary does is slow, so each account has a rank among all, worked out once from the different
 * names; a list of any accounts is then ordered by their ranks. Accounts that were edited since are put into their places one by
 * one.
 */
final class NameIndex {
    private static final int FEW = 1000;

    private final int[] rank;
    private final RoaringBitmap unranked;

    private NameIndex(int[] rank, RoaringBitmap unranked) {
        this.rank = rank;
        this.unranked = unranked;
    }

    /** Ranks all accounts. Costs an ordering of the different names. */
    static NameIndex compute(List<Account> accounts) {
        Collator collator = Collator.getInstance(Locale.UK);
        Map<String, CollationKey> keys = new HashMap<>();
        for (Account account : accounts)
            if (account != null) keys.computeIfAbsent(account.displayName(), collator::getCollationKey);
        CollationKey[] sorted = keys.values().toArray(CollationKey[]::new);
        Arrays.parallelSort(sorted);
        Map<String, Integer> places = new HashMap<>(sorted.length * 2);
        int place = 0;
        for (int i = 0; i < sorted.length; i++) {
            // Names that a dictionary does not tell apart share a place, and are told apart by id.
            if (i > 0 && sorted[i].compareTo(sorted[i - 1]) != 0) place = i;
            places.put(sorted[i].getSourceString(), place);
        }
        RoaringBitmap gone = new RoaringBitmap();
        List<Integer> numbers = new ArrayList<>(accounts.size());
        int[] placeOf = new int[accounts.size()];
        for (int n = 0; n < accounts.size(); n++)
            if (accounts.get(n) == null) gone.add(n);
            else {
                placeOf[n] = Objects.requireNonNull(places.get(accounts.get(n).displayName()));
                numbers.add(n);
            }
        numbers.sort(Comparator.<Integer>comparingInt(n -> placeOf[n])
                .thenComparing(n -> accounts.get(n).id(), CodePointOrder.TEXTS));
        int[] rank = new int[accounts.size()];
        for (int i = 0; i < numbers.size(); i++) rank[numbers.get(i)] = i;
        return new NameIndex(rank, gone);
    }

    /** The same after edits: accounts of these numbers are others now, or new. */
    NameIndex without(RoaringBitmap edited) {
        return new NameIndex(rank, RoaringBitmap.or(unranked, edited));
    }

    /** How many accounts have no rank any more. */
    int displaced() {
        return unranked.getCardinality();
    }

    /** These accounts in order; without ranks when they are few. */
    List<Account> order(List<Account> accounts, RoaringBitmap which) {
        long[] ranked = new long[which.getCardinality()];
        List<Account> others = new ArrayList<>();
        int size = 0;
        for (int n : which)
            if (n >= rank.length || unranked.contains(n)) others.add(accounts.get(n));
            else ranked[size++] = (long) rank[n] << Integer.SIZE | n;
        Arrays.sort(ranked, 0, size);
        List<Account> ordered = new ArrayList<>(size);
        for (int i = 0; i < size; i++) ordered.add(accounts.get((int) ranked[i]));
        return others.isEmpty() ? ordered : merged(ordered, others);
    }

    static boolean areFew(RoaringBitmap which) {
        return which.getCardinality() <= FEW;
    }

    static List<Account> orderFew(List<Account> accounts, RoaringBitmap which) {
        List<Account> ordered = new ArrayList<>(which.getCardinality());
        for (int n : which) ordered.add(accounts.get(n));
        ordered.sort(byName());
        return ordered;
    }

    private static Comparator<Account> byName() {
        Collator collator = Collator.getInstance(Locale.UK);
        return Comparator.comparing(Account::displayName, collator).thenComparing(Account::id, CodePointOrder.TEXTS);
    }

    private static List<Account> merged(List<Account> ordered, List<Account> others) {
        Comparator<Account> byName = byName();
        others.sort(byName);
        List<Account> all = new ArrayList<>(ordered.size() + others.size());
        int from = 0;
        for (Account other : others) {
            int found = Collections.binarySearch(ordered.subList(from, ordered.size()), other, byName);
            int to = from + (found < 0 ? -found - 1 : found);
            all.addAll(ordered.subList(from, to));
            all.add(other);
            from = to;
        }
        all.addAll(ordered.subList(from, ordered.size()));
        return all;
    }
}
