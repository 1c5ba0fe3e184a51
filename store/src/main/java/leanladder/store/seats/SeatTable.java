package leanladder.store.seats;

import static leanladder.store.schema.Tables.SEAT;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.io.Reader;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.Iterator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;
import leanladder.estate.Plan;
import leanladder.seat.SeatLedger;
import leanladder.store.db.Database;
import leanladder.store.db.PgText;
import leanladder.store.db.Schema;
import leanladder.store.schema.tables.Seat;
import org.jooq.Condition;
import org.jooq.DSLContext;
import org.jooq.Field;
import org.jooq.JSON;
import org.jooq.impl.DSL;
import org.postgresql.PGConnection;
import org.postgresql.copy.PGCopyInputStream;

/** The ledger as it stands and as it stood: seats that are held, and the change with which each was given and returned. */
public final class SeatTable {
    /** A temporary table of some of the columns. */
    private static final Seat INCOMING = SEAT.rename("incoming_seat");

    private static final Schema.Span SPAN = new Schema.Span(SEAT.SINCE, SEAT.UNTIL);
    private static final int BATCH = 1000;

    private final Database database;

    /** The ledger in a database. */
    public SeatTable(Database database) {
        this.database = database;
    }

    /** That a change, whose number is in this column, gave this account a seat or took one. */
    public static Condition movedBy(String account, Field<Long> change) {
        return DSL.exists(DSL.selectOne()
                .from(SEAT)
                .where(SEAT.ACCOUNT.eq(PgText.stored(account)), change.in(SEAT.SINCE, SEAT.UNTIL)));
    }

    /** Writes the seats that a change moves; linear in them. */
    public static void move(DSLContext tx, long number, List<MovedSeat> moves) {
        for (int from = 0; from < moves.size(); from += BATCH) {
            List<MovedSeat> some = moves.subList(from, Math.min(moves.size(), from + BATCH));
            var returned = tx.batch(tx.update(SEAT)
                    .set(SEAT.UNTIL, (Long) null)
                    .set(SEAT.RETURNED_BECAUSE, (String) null)
                    .where(SEAT.PLAN.eq((String) null), SEAT.ACCOUNT.eq((String) null), SEAT.UNTIL.isNull()));
            var given = tx.batch(tx.insertInto(SEAT)
                    .columns(SEAT.PLAN, SEAT.ACCOUNT, SEAT.GRANTED, SEAT.SINCE, SEAT.GIVEN_BECAUSE)
                    .values((String) null, null, null, null, null));
            for (MovedSeat seat : some) {
                String account = PgText.stored(seat.account());
                String plan = PgText.stored(seat.plan());
                if (seat.given()) given.bind(plan, account, seat.granted(), number, seat.because());
                else returned.bind(number, seat.because(), plan, account);
            }
            if (returned.size() > 0) returned.execute();
            if (given.size() > 0) given.execute();
        }
    }

    /** Puts a whole ledger in place of what stood; seats that stay the same are left alone. Linear in both. */
    public static void replace(DSLContext tx, long number, Stream<HeldSeat> seats) {
        tx.execute("create temporary table incoming_seat (plan text, account text, granted text, source json,"
                + " given_because text) on commit drop");
        copy(tx, seats.iterator());
        tx.execute("create index on incoming_seat (plan, account)");
        tx.execute("analyze incoming_seat");
        Condition same = INCOMING.PLAN.eq(SEAT.PLAN).and(INCOMING.ACCOUNT.eq(SEAT.ACCOUNT));
        Condition held = SEAT.UNTIL.isNull();
        tx.update(SEAT)
                .set(SEAT.UNTIL, number)
                .set(SEAT.RETURNED_BECAUSE, "the file that was loaded gives it to nobody")
                .where(
                        held,
                        DSL.notExists(DSL.selectOne().from(INCOMING).where(same, INCOMING.GRANTED.eq(SEAT.GRANTED))))
                .execute();
        tx.insertInto(SEAT, SEAT.PLAN, SEAT.ACCOUNT, SEAT.GRANTED, SEAT.SOURCE, SEAT.SINCE, SEAT.GIVEN_BECAUSE)
                .select(DSL.select(
                                INCOMING.PLAN,
                                INCOMING.ACCOUNT,
                                INCOMING.GRANTED,
                                INCOMING.SOURCE,
                                DSL.val(number),
                                INCOMING.GIVEN_BECAUSE)
                        .from(INCOMING)
                        .where(DSL.notExists(DSL.selectOne().from(SEAT).where(held, same))))
                .execute();
    }

    /** Millions of rows go in as one text, not as millions of statements. */
    private static void copy(DSLContext tx, Iterator<HeldSeat> seats) {
        tx.connection(connection -> {
            try (Reader rows = new Rows(seats)) {
                connection
                        .unwrap(PGConnection.class)
                        .getCopyAPI()
                        .copyIn("copy incoming_seat (plan, account, granted, source, given_because) from stdin", rows);
            } catch (IOException e) {
                throw new UncheckedIOException(e);
            }
        });
    }

    /** Seats in the text that COPY reads. */
    private static final class Rows extends Reader {
        private final Iterator<HeldSeat> seats;
        private String row = "";
        private int at;

        Rows(Iterator<HeldSeat> seats) {
            this.seats = seats;
        }

        @Override
        public int read(char[] into, int offset, int length) {
            if (at == row.length()) {
                if (!seats.hasNext()) return -1;
                StringBuilder rows = new StringBuilder();
                for (int i = 0; i < BATCH && seats.hasNext(); i++) append(rows, seats.next());
                row = rows.toString();
                at = 0;
            }
            int count = Math.min(length, row.length() - at);
            row.getChars(at, at + count, into, offset);
            at += count;
            return count;
        }

        private static void append(StringBuilder rows, HeldSeat seat) {
            text(rows, PgText.stored(seat.plan())).append('\t');
            text(rows, PgText.stored(seat.account())).append('\t');
            text(rows, seat.granted()).append('\t');
            if (seat.source().isEmpty()) rows.append("\\N");
            else text(rows, seat.source().get());
            text(rows.append('\t'), seat.because()).append('\n');
        }

        private static StringBuilder text(StringBuilder rows, String text) {
            for (int i = 0; i < text.length(); i++) {
                char c = text.charAt(i);
                switch (c) {
                    case '\\' -> rows.append("\\\\");
                    case '\t' -> rows.append("\\t");
                    case '\n' -> rows.append("\\n");
                    case '\r' -> rows.append("\\r");
                    default -> rows.append(c);
                }
            }
            return rows;
        }

        @Override
        public void close() {}
    }

    /** The seats that a change moved, by plan and account. */
    public List<MovedSeat> movedBy(long number) {
        return moved(SEAT.SINCE.eq(number), SEAT.UNTIL.eq(number));
    }

    /** The newest seats that were moved of a plan, or that an account was given or returned, by the change that did. */
    public record SeatTransfer(long change, MovedSeat seat) {}

    /** What became of the seats of an account, the newest first, so many at most. */
    public List<SeatTransfer> ofAccount(String account, int most) {
        return passed(SEAT.ACCOUNT.eq(PgText.stored(account)), most);
    }

    /** What became of the seats of a plan after a change, the newest first, so many at most. */
    public List<SeatTransfer> ofPlan(String plan, int most) {
        return passed(SEAT.PLAN.eq(PgText.stored(plan)), most);
    }

    private List<SeatTransfer> passed(Condition which, int most) {
        return database.read(on -> {
            List<SeatTransfer> passed = new ArrayList<>();
            on.select(SEAT.PLAN, SEAT.ACCOUNT, SEAT.GRANTED, SEAT.SINCE, SEAT.GIVEN_BECAUSE)
                    .from(SEAT)
                    .where(which)
                    .orderBy(SEAT.SINCE.desc(), SEAT.ACCOUNT)
                    .limit(most)
                    .forEach(row -> passed.add(new SeatTransfer(row.value4(), moved(row, true, row.value5()))));
            on.select(SEAT.PLAN, SEAT.ACCOUNT, SEAT.GRANTED, SEAT.UNTIL, SEAT.RETURNED_BECAUSE)
                    .from(SEAT)
                    .where(which, SEAT.UNTIL.isNotNull())
                    .orderBy(SEAT.UNTIL.desc(), SEAT.ACCOUNT)
                    .limit(most)
                    .forEach(row -> passed.add(new SeatTransfer(row.value4(), moved(row, false, row.value5()))));
            passed.sort(java.util.Comparator.comparingLong(SeatTransfer::change).reversed());
            return passed.subList(0, Math.min(most, passed.size()));
        });
    }

    private static MovedSeat moved(org.jooq.Record row, boolean given, String because) {
        return new MovedSeat(
                PgText.read(row.get(SEAT.PLAN)),
                PgText.read(row.get(SEAT.ACCOUNT)),
                given,
                row.get(SEAT.GRANTED),
                because == null ? "" : because);
    }

    private List<MovedSeat> moved(Condition given, Condition returned) {
        return database.read(on -> {
            List<MovedSeat> moves = new ArrayList<>();
            on.select(SEAT.PLAN, SEAT.ACCOUNT, SEAT.GRANTED, SEAT.RETURNED_BECAUSE)
                    .from(SEAT)
                    .where(returned)
                    .orderBy(SEAT.PLAN, SEAT.ACCOUNT)
                    .forEach(row -> moves.add(moved(row, false, row.value4())));
            on.select(SEAT.PLAN, SEAT.ACCOUNT, SEAT.GRANTED, SEAT.GIVEN_BECAUSE)
                    .from(SEAT)
                    .where(given)
                    .orderBy(SEAT.PLAN, SEAT.ACCOUNT)
                    .forEach(row -> moves.add(moved(row, true, row.value4())));
            return moves;
        });
    }

    /**
     * The seats that were held otherwise after a change than after another, as they were held then; empty where they are more than so many.
     * Costs those that differ.
     */
    public static Optional<List<SeatLedger.Seat>> difference(DSLContext on, long then, long here, int most) {
        Map<List<String>, SeatLedger.Seat> seats = new HashMap<>();
        for (long number : new long[] {here, then})
            on.select(SEAT.PLAN, SEAT.ACCOUNT, SEAT.GRANTED)
                    .from(SEAT)
                    .where(SPAN.holdsOnlyAt(number, number == here ? then : here))
                    .limit(most + 1)
                    .forEach(row -> {
                        Optional<Instant> granted =
                                number == then ? Optional.of(Instant.parse(row.value3())) : Optional.empty();
                        seats.put(
                                List.of(row.value1(), row.value2()),
                                new SeatLedger.Seat(PgText.read(row.value1()), PgText.read(row.value2()), granted));
                    });
        return seats.size() > most ? Optional.empty() : Optional.of(List.copyOf(seats.values()));
    }

    /**
     * All seats that were held after a change, by plan. They are read as one text: millions of them through statements would take longer
     * than the whole estate.
     */
    public static Map<String, List<Plan.Holder>> all(DSLContext tx, long number) throws IOException {
        Map<String, List<Plan.Holder>> all = new HashMap<>();
        String rows = "copy (select plan, account, granted from seat where since <= " + number
                + " and (until is null or until > " + number + ")) to stdout";
        tx.connection(connection -> {
            try (PGCopyInputStream in = new PGCopyInputStream(connection.unwrap(PGConnection.class), rows);
                    BufferedReader lines =
                            new BufferedReader(new InputStreamReader(in, StandardCharsets.UTF_8), 1 << 16)) {
                // Many seats of one plan, granted at one instant, stand side by side.
                String at = "";
                Instant granted = Instant.EPOCH;
                String plan = null;
                List<Plan.Holder> page = List.of();
                for (String line = lines.readLine(); line != null; line = lines.readLine()) {
                    int first = line.indexOf('\t');
                    int second = line.indexOf('\t', first + 1);
                    if (plan == null || plan.length() != first || !line.startsWith(plan)) {
                        plan = line.substring(0, first);
                        page = all.computeIfAbsent(PgText.read(unescaped(plan)), p -> new ArrayList<>());
                    }
                    if (at.length() != line.length() - second - 1 || !line.endsWith(at)) {
                        at = line.substring(second + 1);
                        granted = Instant.parse(at);
                    }
                    String account = PgText.read(unescaped(line.substring(first + 1, second)));
                    page.add(new Plan.Holder(account, granted, Optional.empty()));
                }
            } catch (IOException e) {
                throw new UncheckedIOException(e);
            }
        });
        return all;
    }

    /** A text as COPY writes it, its backslashes taken back. */
    private static String unescaped(String text) {
        if (text.indexOf('\\') < 0) return text;
        StringBuilder plain = new StringBuilder(text.length());
        for (int i = 0; i < text.length(); i++) {
            char c = text.charAt(i);
            if (c != '\\') {
                plain.append(c);
                continue;
            }
            char next = text.charAt(++i);
            plain.append(
                    switch (next) {
                        case 't' -> '\t';
                        case 'n' -> '\n';
                        case 'r' -> '\r';
                        case 'b' -> '\b';
                        case 'f' -> '\f';
                        case 'v' -> '\u000b';
                        default -> next;
                    });
        }
        return plain.toString();
    }

    /** Takes a seat of a plan as it was held. */
    @FunctionalInterface
    public interface Holder {
        void met(String account, String granted, JSON source) throws IOException;
    }

    /** The seats of a plan that were held, by account; read one after the other. */
    public static void holders(DSLContext tx, String plan, long asOf, Holder each) throws IOException {
        try (var rows = tx.select(SEAT.ACCOUNT, SEAT.GRANTED, SEAT.SOURCE)
                .from(SEAT)
                .where(SEAT.PLAN.eq(PgText.stored(plan)), SPAN.holdsAt(asOf))
                .orderBy(SEAT.ACCOUNT.collate(DSL.collation("C")))
                .fetchSize(BATCH)
                .fetchLazy()) {
            for (var row : rows) each.met(PgText.read(row.value1()), row.value2(), row.value3());
        }
    }
}
