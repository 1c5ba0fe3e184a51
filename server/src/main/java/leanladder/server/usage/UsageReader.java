package leanladder.server.usage;

import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.Arrays;
import java.util.HashSet;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import leanladder.catalogue.Need;
import leanladder.catalogue.Setting;
import leanladder.estate.Estate;
import leanladder.estate.Plan;
import leanladder.reach.Directory;
import leanladder.store.usage.UsageTable;
import org.roaringbitmap.RoaringBitmap;

/**
 * Reads usage as sets of accounts of an estate. Keeps the account of each number in memory, which takes one reference for each account. Keeps
 * sets for a minute.
 */
public final class UsageReader {
    /** How many days reviews and seats look back. */
    public static final int RECENT = 30;

    private static final Duration KEPT = Duration.ofMinutes(1);
    private static final int MOST_KEPT = 400;

    private final UsageTable usage;
    private final Cache<RecentKey, RoaringBitmap> recent =
            Caffeine.newBuilder().maximumSize(MOST_KEPT).expireAfterWrite(KEPT).build();
    private String[] accounts = new String[0];

    private record RecentKey(String setting, LocalDate since) {}

    /** Reads from a table. */
    public UsageReader(UsageTable usage) {
        this.usage = usage;
    }

    /** The first of the last {@link #RECENT} days, in UTC as all days of usage. */
    public static LocalDate firstRecentDay(Instant now) {
        return now.atOffset(ZoneOffset.UTC).toLocalDate().minusDays(RECENT - 1L);
    }

    /** The table that it reads. */
    public UsageTable table() {
        return usage;
    }

    /** Those accounts of a directory that used a setting on a day or later. */
    public RoaringBitmap users(String setting, LocalDate since, Directory directory) {
        RoaringBitmap numbers = recent.get(new RecentKey(setting, since), r -> usage.users(r.setting, r.since));
        RoaringBitmap users = new RoaringBitmap();
        String[] ids = ids(numbers);
        numbers.forEach((int n) -> directory.find(ids[n]).ifPresent(users::add));
        return users;
    }

    /** The ids of accounts by their numbers. Those that are not known yet are read; a number can be committed after a higher one. */
    private synchronized String[] ids(RoaringBitmap numbers) {
        for (int number : numbers)
            if (number >= accounts.length || accounts[number] == null) {
                read(number);
                break;
            }
        return accounts;
    }

    private void read(int from) {
        for (UsageTable.AccountNumber one : usage.accountNumbers(from)) {
            if (one.number() >= accounts.length)
                accounts = Arrays.copyOf(accounts, Math.max(one.number() + 1, accounts.length * 2));
            accounts[one.number()] = one.account();
        }
    }

    /**
     * Finds who used something that a seat of a plan carries in the last {@link #RECENT} days. Empty where clients have not reported such usage for
     * that long.
     */
    public Optional<RoaringBitmap> usersOf(Plan plan, Estate estate, Directory directory, Instant now) {
        LocalDate since = firstRecentDay(now);
        Map<String, LocalDate> reported = usage.reported();
        RoaringBitmap users = new RoaringBitmap();
        boolean known = false;
        for (Setting setting : estate.catalogue().settings().values()) {
            LocalDate first = reported.get(setting.key());
            if (first == null || first.isAfter(since) || !needsOneOf(setting, new HashSet<>(plan.components())))
                continue;
            known = true;
            users.or(users(setting.key(), since, directory));
        }
        return known ? Optional.of(users) : Optional.empty();
    }

    private static boolean needsOneOf(Setting setting, Set<String> components) {
        return setting.needs().stream()
                .anyMatch(need -> need instanceof Need.Entitlement entitlement
                        && entitlement.anyOf().stream().anyMatch(components::contains));
    }
}
