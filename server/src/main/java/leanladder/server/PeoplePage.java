package leanladder.server;

import java.text.Collator;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import leanladder.estate.Account;
import leanladder.reach.Directory;
import leanladder.text.CodePointOrder;
import org.roaringbitmap.RoaringBitmap;

/**
 * Which of many accounts are asked for.
 *
 * @param limit at most so many
 * @param after the account after which the page starts
 * @param effect only those whom a ripple touches so: gain, lose, both or other
 */
record PeoplePage(int limit, Optional<String> after, Optional<String> effect) {
    private static final int SHOWN = 200;
    private static final int MOST = 5000;

    /** The names of the parameters that make a page. */
    static final Set<String> PARAMETERS = Set.of("limit", "after", "effect");

    static PeoplePage of(Query query) {
        return new PeoplePage(query.number("limit", SHOWN, MOST), query.one("after"), query.one("effect"));
    }

    /** All these accounts by name. Sorts them: linear in the accounts but for that. */
    static List<Account> byName(Directory directory, RoaringBitmap which) {
        List<Account> accounts = new ArrayList<>(which.getCardinality());
        which.forEach((int n) -> accounts.add(directory.account(n)));
        Collator collator = Collator.getInstance(Locale.UK);
        accounts.sort(
                Comparator.comparing(Account::displayName, collator).thenComparing(Account::id, CodePointOrder.TEXTS));
        return accounts;
    }

    /** The page of these accounts. */
    List<Account> of(List<Account> accounts) {
        int from = from(accounts);
        return accounts.subList(from, Math.min(accounts.size(), from + limit));
    }

    /** The account after which the next page starts; empty when this is the last. */
    Optional<String> next(List<Account> accounts) {
        int end = from(accounts) + limit;
        return end < accounts.size() ? Optional.of(accounts.get(end - 1).id()) : Optional.empty();
    }

    private int from(List<Account> accounts) {
        if (after.isEmpty()) return 0;
        for (int i = 0; i < accounts.size(); i++) if (accounts.get(i).id().equals(after.get())) return i + 1;
        throw Problem.wrongInput("The parameter \"after\" names no account of this list.");
    }
}
