package leanladder.store.usage;

import static leanladder.store.schema.Tables.USAGE_ACCOUNT;
import static leanladder.store.schema.Tables.USAGE_ITEM;
import static leanladder.store.schema.Tables.USAGE_PERIOD;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.ByteBuffer;
import java.time.DayOfWeek;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.time.temporal.TemporalAdjuster;
import java.time.temporal.TemporalAdjusters;
import java.util.Collection;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import leanladder.store.db.Database;
import leanladder.store.db.PgText;
import leanladder.store.db.WriteRequest;
import org.jooq.DSLContext;
import org.jooq.Record2;
import org.jooq.impl.DSL;
import org.roaringbitmap.RoaringBitmap;

/**
 * Who used which setting when, as clients of the suite report it: per day for 60 days, then per week up to 400 days. Each period is a
 * compressed bitmap of the numbers that accounts have here; a number never alters. At 1,000,000 accounts a period has 125 KB at most.
 */
public final class UsageTable {
    /** For how many days each day is kept apart. */
    public static final int DAILY = 60;

    /** For how many days anything is kept. */
    public static final int KEPT = 400;

    private static final int WEEK = 7;

    private final Database database;

    /** The usage in a database. */
    public UsageTable(Database database) {
        this.database = database;
    }

    /** A period of a setting. @param days 1 or 7 @param people how many used it */
    public record Period(LocalDate day, int days, int people) {}

    /** How many items a setting has shared outside. @param day on which that was reported */
    public record Items(long items, LocalDate day) {}

    /**
     * Adds a day's reports to what is known. Costs one bitmap per setting, and one look-up per account.
     *
     * @param uses for each setting the ids of the accounts that used it on that day
     * @param items for each setting that shares outside, how many items are shared
     */
    public void add(WriteRequest writeRequest, LocalDate day, Map<String, Set<String>> uses, Map<String, Long> items) {
        database.write(writeRequest, tx -> {
            Map<String, Integer> numbers = numbers(tx, uses.values());
            new TreeMap<>(uses).forEach((setting, accounts) -> {
                RoaringBitmap used = new RoaringBitmap();
                accounts.forEach(account -> used.add(Objects.requireNonNull(numbers.get(account))));
                merge(tx, setting, day, 1, used);
            });
            items.forEach((setting, count) -> tx.insertInto(USAGE_ITEM)
                    .columns(USAGE_ITEM.SETTING, USAGE_ITEM.ITEMS, USAGE_ITEM.DAY)
                    .values(setting, count, day)
                    .onConflict(USAGE_ITEM.SETTING)
                    .doUpdate()
                    .set(USAGE_ITEM.ITEMS, count)
                    .set(USAGE_ITEM.DAY, day)
                    .where(USAGE_ITEM.DAY.le(day))
                    .execute());
            return 0;
        });
    }

    /** The numbers of accounts; those that have none are given one. */
    private static Map<String, Integer> numbers(DSLContext tx, Collection<Set<String>> accounts) {
        Set<String> all = new HashSet<>();
        accounts.forEach(all::addAll);
        String[] stored = all.stream().map(PgText::stored).sorted().toArray(String[]::new);
        // A conflict would use up a number, so only accounts without a number are inserted.
        tx.execute(
                "insert into usage_account (account) select a from unnest(?::text[]) as a"
                        + " where not exists (select 1 from usage_account known where known.account = a)"
                        + " on conflict do nothing",
                (Object) stored);
        Map<String, Integer> numbers = new HashMap<>();
        tx.select(USAGE_ACCOUNT.ACCOUNT, USAGE_ACCOUNT.NUMBER)
                .from(USAGE_ACCOUNT)
                .where(USAGE_ACCOUNT.ACCOUNT.in(DSL.select(DSL.field("unnest({0})", String.class, DSL.val(stored)))))
                .forEach(row -> numbers.put(PgText.read(row.value1()), row.value2()));
        return numbers;
    }

    private static void merge(DSLContext tx, String setting, LocalDate day, int days, RoaringBitmap more) {
        RoaringBitmap used = tx.select(USAGE_PERIOD.ACCOUNTS)
                .from(USAGE_PERIOD)
                .where(USAGE_PERIOD.SETTING.eq(setting), USAGE_PERIOD.DAY.eq(day))
                .forUpdate()
                .fetchOptional(USAGE_PERIOD.ACCOUNTS)
                .map(UsageTable::read)
                .orElseGet(RoaringBitmap::new);
        used.or(more);
        byte[] written = write(used);
        tx.insertInto(USAGE_PERIOD)
                .columns(
                        USAGE_PERIOD.SETTING,
                        USAGE_PERIOD.DAY,
                        USAGE_PERIOD.DAYS,
                        USAGE_PERIOD.PEOPLE,
                        USAGE_PERIOD.ACCOUNTS)
                .values(setting, day, (short) days, used.getCardinality(), written)
                .onConflict(USAGE_PERIOD.SETTING, USAGE_PERIOD.DAY)
                .doUpdate()
                .set(USAGE_PERIOD.DAYS, (short) days)
                .set(USAGE_PERIOD.PEOPLE, used.getCardinality())
                .set(USAGE_PERIOD.ACCOUNTS, written)
                .execute();
    }

    private static RoaringBitmap read(byte[] written) {
        RoaringBitmap bitmap = new RoaringBitmap();
        try {
            bitmap.deserialize(ByteBuffer.wrap(written));
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
        return bitmap;
    }

    private static byte[] write(RoaringBitmap bitmap) {
        bitmap.runOptimize();
        ByteBuffer buffer = ByteBuffer.allocate(bitmap.serializedSizeInBytes());
        bitmap.serialize(buffer);
        return buffer.array();
    }

    /** Merges days that are older than {@link #DAILY} into weeks, which begin on Mondays, and removes what is older than {@link #KEPT}. */
    public void compact(Instant now) {
        LocalDate today = now.atOffset(ZoneOffset.UTC).toLocalDate();
        List<Record2<String, LocalDate>> old = database.read(on -> {
            on.deleteFrom(USAGE_PERIOD)
                    .where(USAGE_PERIOD.DAY.lt(today.minusDays(KEPT)))
                    .execute();
            return on.select(USAGE_PERIOD.SETTING, USAGE_PERIOD.DAY)
                    .from(USAGE_PERIOD)
                    .where(
                            USAGE_PERIOD.DAYS.eq((short) 1),
                            USAGE_PERIOD.DAY.lt(today.minusDays(DAILY).with(monday())))
                    .orderBy(USAGE_PERIOD.SETTING, USAGE_PERIOD.DAY)
                    .fetch();
        });
        for (var one : old)
            database.write(WriteRequest.by("usage", now), tx -> {
                Optional<RoaringBitmap> day = tx.deleteFrom(USAGE_PERIOD)
                        .where(
                                USAGE_PERIOD.SETTING.eq(one.value1()),
                                USAGE_PERIOD.DAY.eq(one.value2()),
                                USAGE_PERIOD.DAYS.eq((short) 1))
                        .returning(USAGE_PERIOD.ACCOUNTS)
                        .fetchOptional(USAGE_PERIOD.ACCOUNTS)
                        .map(UsageTable::read);
                day.ifPresent(d -> merge(tx, one.value1(), one.value2().with(monday()), WEEK, d));
                return 0;
            });
    }

    private static TemporalAdjuster monday() {
        return TemporalAdjusters.previousOrSame(DayOfWeek.MONDAY);
    }

    /** The periods of a setting, the oldest first. */
    public List<Period> periods(String setting) {
        return database.read(on -> on.select(USAGE_PERIOD.DAY, USAGE_PERIOD.DAYS, USAGE_PERIOD.PEOPLE)
                .from(USAGE_PERIOD)
                .where(USAGE_PERIOD.SETTING.eq(setting))
                .orderBy(USAGE_PERIOD.DAY)
                .fetch(row -> new Period(row.value1(), row.value2(), row.value3())));
    }

    /** The numbers of those who used a setting on a day or later; a week counts where it holds that day. Costs one bitmap a period. */
    public RoaringBitmap users(String setting, LocalDate since) {
        RoaringBitmap users = new RoaringBitmap();
        database.read(on -> {
            on.select(USAGE_PERIOD.ACCOUNTS)
                    .from(USAGE_PERIOD)
                    .where(
                            USAGE_PERIOD.SETTING.eq(setting),
                            USAGE_PERIOD.DAY.gt(since.minusDays(WEEK)),
                            USAGE_PERIOD.DAYS.eq((short) WEEK).or(USAGE_PERIOD.DAY.ge(since)))
                    .forEach(row -> users.or(read(row.value1())));
            return null;
        });
        return users;
    }

    /** The first day of the last period in which an account used a setting. Reads the periods from the newest on until it is found. */
    public Optional<Period> lastUse(String setting, String account) {
        return database.read(on -> {
            Integer number = on.select(USAGE_ACCOUNT.NUMBER)
                    .from(USAGE_ACCOUNT)
                    .where(USAGE_ACCOUNT.ACCOUNT.eq(PgText.stored(account)))
                    .fetchOne(USAGE_ACCOUNT.NUMBER);
            if (number == null) return Optional.empty();
            try (var rows = on.select(USAGE_PERIOD.DAY, USAGE_PERIOD.DAYS, USAGE_PERIOD.PEOPLE, USAGE_PERIOD.ACCOUNTS)
                    .from(USAGE_PERIOD)
                    .where(USAGE_PERIOD.SETTING.eq(setting))
                    .orderBy(USAGE_PERIOD.DAY.desc())
                    .fetchSize(1)
                    .fetchLazy()) {
                for (var row : rows)
                    if (read(row.value4()).contains(number))
                        return Optional.of(new Period(row.value1(), row.value2(), row.value3()));
            }
            return Optional.empty();
        });
    }

    /** How many items a setting shares outside, where that was reported. */
    public Optional<Items> items(String setting) {
        return database.read(on -> on.select(USAGE_ITEM.ITEMS, USAGE_ITEM.DAY)
                .from(USAGE_ITEM)
                .where(USAGE_ITEM.SETTING.eq(setting))
                .fetchOptional(row -> new Items(row.value1(), row.value2())));
    }

    /** The settings of which usage was reported at all, with the first day of which. */
    public Map<String, LocalDate> reported() {
        return database.read(on -> on.select(USAGE_PERIOD.SETTING, DSL.min(USAGE_PERIOD.DAY))
                .from(USAGE_PERIOD)
                .groupBy(USAGE_PERIOD.SETTING)
                .fetchMap(USAGE_PERIOD.SETTING, DSL.min(USAGE_PERIOD.DAY)));
    }

    /** An account and its number. */
    public record AccountNumber(int number, String account) {}

    /** The accounts from a number on, by number. A gap can be filled later, because numbers can be committed in another order. */
    public List<AccountNumber> accountNumbers(int from) {
        return database.read(on -> on.select(USAGE_ACCOUNT.NUMBER, USAGE_ACCOUNT.ACCOUNT)
                .from(USAGE_ACCOUNT)
                .where(USAGE_ACCOUNT.NUMBER.ge(from))
                .orderBy(USAGE_ACCOUNT.NUMBER)
                .fetch(row -> new AccountNumber(row.value1(), PgText.read(row.value2()))));
    }
}
