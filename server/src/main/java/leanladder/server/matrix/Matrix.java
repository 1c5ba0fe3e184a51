package leanladder.server.matrix;

import com.fasterxml.jackson.annotation.JsonInclude;
import com.fasterxml.jackson.databind.JsonNode;
import java.text.Collator;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import leanladder.catalogue.Default;
import leanladder.catalogue.Need;
import leanladder.catalogue.Setting;
import leanladder.catalogue.Value;
import leanladder.estate.Account;
import leanladder.estate.Group;
import leanladder.estate.Target;
import leanladder.estate.Unit;
import leanladder.reach.Directory;
import leanladder.reach.RungKind;
import leanladder.resolve.Column;
import leanladder.resolve.ColumnResolver;
import leanladder.resolve.Outcome;
import leanladder.resolve.Segment;
import leanladder.resolve.Standing;
import leanladder.ripple.Ripple;
import leanladder.server.http.CsvResponse;
import leanladder.server.http.JsonWriter;
import leanladder.server.http.description.SchemaRef;
import leanladder.server.paging.AccountPage;
import leanladder.server.query.QueryContext;
import leanladder.text.EstateFormatter;
import org.roaringbitmap.RoaringBitmap;

/**
 * The estate as one matrix: rows are the unit tree, opened down to people, or groups; columns are settings. What a window of it
 * costs is the units in sight and the shares of each column, not the accounts. Safe for use by several threads.
 */
final class Matrix {
    private static final int SHARES_TOLD = 5;

    /** What a row is of. */
    enum RowKind {
        UNIT,
        GROUP,
        ACCOUNT
    }

    /** What is let through. */
    enum Filter {
        ALL(""),
        NOT_BUILT_IN("not-built-in"),
        MIXED("mixed"),
        BLOCKED("blocked"),
        DRAFTED("drafted");

        private final String word;

        Filter(String word) {
            this.word = word;
        }

        String word() {
            return word;
        }
    }

    /** Accounts that share a value. */
    record CellSegment(String value, @SchemaRef("Value") JsonNode inForce, int accounts) {}

    /**
     * A cell.
     *
     * @param more further values that are not told
     * @param rung where all of them come from the same height
     * @param standing where all of them stand alike
     * @param drafted whether the draft changes something here
     */
    record MatrixCell(
            List<CellSegment> shares,

            @JsonInclude(JsonInclude.Include.NON_DEFAULT) int more,

            @JsonInclude(JsonInclude.Include.NON_ABSENT) Optional<RungKind> rung,

            @JsonInclude(JsonInclude.Include.NON_ABSENT) Optional<Standing> standing,

            @JsonInclude(JsonInclude.Include.NON_DEFAULT) boolean drafted) {}

    /** A row with the cells of the columns asked for. @param more what else is told of it: a title, or that it is for mail */
    record MatrixRow(
            RowKind kind,
            String id,
            String name,

            @JsonInclude(JsonInclude.Include.NON_EMPTY) String more,
            int depth,
            int accounts,
            boolean openable,
            boolean open,
            List<MatrixCell> cells) {}

    /**
     * A window of the matrix.
     *
     * @param firstColumn the setting of the first cell of each row
     * @param found the place of the row that was looked for; empty where a filter keeps it out
     * @param opened what had to be opened for it
     */
    record MatrixView(
            long change,
            int total,
            int firstColumn,
            List<MatrixRow> rows,
            Optional<Integer> found,
            List<String> opened) {}

    /** What is asked for, read and checked; the same for every window of one matrix. */
    record Layout(
            List<Setting> settings,
            boolean groups,
            boolean allOpen,
            boolean unitsOpen,
            Set<String> open,
            Set<String> shut,
            Filter filter) {
        /** Whether the people of an open unit are shown. */
        boolean showsPeople(String id) {
            return allOpen || !unitsOpen || open.contains(id);
        }

        /** The units directly below the organisation are open unless they were shut. */
        boolean isOpen(String id, int depth) {
            return allOpen
                    || unitsOpen
                    || depth == 0
                    || open.contains(id)
                    || depth == 1 && !groups && !shut.contains(id);
        }
    }

    /**
     * The part of the matrix that is asked for.
     *
     * @param from the first row
     * @param firstColumn the first setting
     */
    record MatrixWindow(int from, int count, int firstColumn, int columns) {}

    /** A row before its cells are told: a unit, a group, or an account below one of them. */
    private record Row(
            RowKind kind, String id, String name, String more, int depth, RoaringBitmap who, boolean openable) {}

    /** Rows that come one after the other: one unit or group, or the people of one. */
    private record RowRange(Optional<Row> head, RoaringBitmap people, int depth) {
        int size() {
            return head.isPresent() ? 1 : people.getCardinality();
        }
    }

    private final long change;
    private final Directory directory;
    private final Layout layout;
    private final EstateFormatter estateFormatter;
    private final List<Column> columns = new ArrayList<>();
    /** The shares of each column, those with most accounts first. */
    private final List<List<Segment<Outcome>>> shares = new ArrayList<>();

    private final List<RoaringBitmap> drafted = new ArrayList<>();
    private final Optional<RoaringBitmap> wanted;
    private final List<RowRange> stretches = new ArrayList<>();
    private final Map<String, Boolean> mixed = new ConcurrentHashMap<>();

    Matrix(QueryContext queryContext, Layout layout, Optional<Ripple> ripple) {
        this.change = queryContext.snapshot().change();
        this.directory = queryContext.directory();
        this.layout = layout;
        this.estateFormatter = queryContext.estateFormatter();
        ColumnResolver columnResolver = queryContext.instantResolution().columnResolver();
        for (Setting setting : layout.settings) {
            Column column = columnResolver.column(setting.key());
            columns.add(column);
            List<Segment<Outcome>> sorted = new ArrayList<>(column.shares());
            sorted.sort(
                    Comparator.<Segment<Outcome>>comparingInt(s -> s.accounts().getCardinality())
                            .reversed());
            shares.add(sorted);
            RoaringBitmap changed = new RoaringBitmap();
            ripple.ifPresent(r -> r.moves().stream()
                    .filter(m -> m.setting().key().equals(setting.key()))
                    .forEach(m -> changed.or(m.accounts())));
            drafted.add(changed);
        }
        wanted = wanted();
        if (layout.groups) groups(queryContext.estate().groups());
        else units(directory.tree().root(), 0);
    }

    /** Those whom the filter lets through; empty when every row counts, or rows are looked at one by one. */
    private Optional<RoaringBitmap> wanted() {
        if (layout.filter == Filter.ALL || layout.filter == Filter.MIXED) return Optional.empty();
        RoaringBitmap set = new RoaringBitmap();
        if (layout.filter == Filter.DRAFTED) {
            drafted.forEach(set::or);
            return Optional.of(set);
        }
        for (int i = 0; i < columns.size(); i++) {
            Setting setting = layout.settings.get(i);
            for (Segment<Outcome> segment : columns.get(i).shares())
                if (layout.filter == Filter.BLOCKED
                        ? isUnlicensed(segment.what())
                        : isNotBuiltIn(setting, segment.what())) set.or(segment.accounts());
        }
        return Optional.of(set);
    }

    private static boolean isUnlicensed(Outcome outcome) {
        return outcome.blockedBy().stream().anyMatch(n -> n instanceof Need.Entitlement);
    }

    private static boolean isNotBuiltIn(Setting setting, Outcome outcome) {
        if (setting.builtIn() instanceof Default.Fixed fixed)
            return !fixed.value().equals(outcome.value());
        return outcome.rung().kind() != RungKind.BUILTIN;
    }

    private RoaringBitmap active(RoaringBitmap set) {
        return RoaringBitmap.and(set, directory.active());
    }

    private boolean passes(String id, RoaringBitmap who) {
        if (layout.filter == Filter.MIXED) return mixed.computeIfAbsent(id, k -> isMixed(who));
        return wanted.isEmpty() || RoaringBitmap.intersects(wanted.get(), who);
    }

    private boolean isMixed(RoaringBitmap who) {
        int size = who.getCardinality();
        for (Column column : columns) {
            boolean uniform = size == 0
                    || column.inForce().values().stream().anyMatch(v -> RoaringBitmap.andCardinality(v, who) == size);
            if (!uniform) return true;
        }
        return false;
    }

    private void units(String id, int depth) {
        RoaringBitmap who = active(directory.inOrBelow(id));
        if (!passes(id, who)) return;
        Unit unit = directory.tree().unit(id);
        boolean openable = !directory.tree().children(id).isEmpty()
                || !directory.directlyIn(id).isEmpty();
        stretches.add(new RowRange(
                Optional.of(new Row(RowKind.UNIT, id, unit.name(), "", depth, who, openable)), who, depth));
        if (!layout.isOpen(id, depth)) return;
        for (Unit child : directory.tree().children(id)) units(child.id(), depth + 1);
        if (layout.showsPeople(id)) people(active(directory.directlyIn(id)), depth + 1);
    }

    private void groups(List<Group> all) {
        List<Group> groups = new ArrayList<>(all);
        groups.sort(Comparator.comparing(Group::name, Collator.getInstance(Locale.UK)));
        for (Group group : groups) {
            RoaringBitmap who = active(directory.members(group.id()));
            if (!passes("group " + group.id(), who)) continue;
            stretches.add(new RowRange(
                    Optional.of(new Row(
                            RowKind.GROUP,
                            group.id(),
                            group.name(),
                            group.access() ? "" : "mailing",
                            0,
                            who,
                            !who.isEmpty())),
                    who,
                    0));
            if (layout.isOpen(group.id(), 1)) people(who, 1);
        }
    }

    private void people(RoaringBitmap who, int depth) {
        RoaringBitmap shown = wanted.map(w -> RoaringBitmap.and(w, who)).orElse(who);
        if (!shown.isEmpty()) stretches.add(new RowRange(Optional.empty(), shown, depth));
    }

    /** The rows of the window. Only people of stretches that reach into it are put in order. */
    private List<Row> rows(int from, int count) {
        List<Row> rows = new ArrayList<>();
        int at = 0;
        for (RowRange rowRange : stretches) {
            int size = rowRange.size();
            if (at + size > from && at < from + count) {
                if (rowRange.head.isPresent()) rows.add(rowRange.head.get());
                else {
                    List<Account> people = directory.byName(rowRange.people);
                    int first = Math.max(0, from - at);
                    int last = Math.min(size, from + count - at);
                    for (Account a : people.subList(first, last)) rows.add(row(a, rowRange.depth));
                }
            }
            at += size;
            if (at >= from + count) break;
        }
        return rows;
    }

    private Row row(Account a, int depth) {
        return new Row(
                RowKind.ACCOUNT,
                a.id(),
                a.displayName(),
                a.title().orElse(""),
                depth,
                RoaringBitmap.bitmapOf(directory.number(a.id())),
                false);
    }

    /** The place of the row of a unit, a group or an account; empty where there is none. Costs the people of one unit. */
    private Optional<Integer> place(Target target) {
        int at = 0;
        for (RowRange rowRange : stretches) {
            if (rowRange.head.isPresent()) {
                Row head = rowRange.head.get();
                boolean same = target instanceof Target.UnitTarget unit
                        ? head.kind == RowKind.UNIT && head.id.equals(unit.id())
                        : target instanceof Target.GroupTarget group
                                && head.kind == RowKind.GROUP
                                && head.id.equals(group.id());
                if (same) return Optional.of(at);
            } else if (target instanceof Target.AccountTarget account
                    && rowRange.people.contains(directory.number(account.id()))) {
                List<Account> people = directory.byName(rowRange.people);
                for (int i = 0; i < people.size(); i++)
                    if (people.get(i).id().equals(account.id())) return Optional.of(at + i);
            }
            at += rowRange.size();
        }
        return Optional.empty();
    }

    private int total() {
        return stretches.stream().mapToInt(RowRange::size).sum();
    }

    /** The rows and cells of a window. */
    MatrixView window(MatrixWindow matrixWindow, Optional<Target> find, List<String> opened) {
        int end = Math.min(columns.size(), matrixWindow.firstColumn + matrixWindow.columns);
        List<MatrixRow> rows = new ArrayList<>();
        for (Row row : rows(matrixWindow.from, matrixWindow.count)) {
            boolean root = row.kind == RowKind.UNIT && row.depth == 0;
            List<MatrixCell> cells = new ArrayList<>();
            for (int i = matrixWindow.firstColumn; i < end; i++) cells.add(cell(i, row.who));
            rows.add(new MatrixRow(
                    row.kind,
                    row.id,
                    row.name,
                    row.more,
                    row.depth,
                    row.who.getCardinality(),
                    row.openable && !root,
                    root || row.openable && layout.isOpen(row.id, Math.max(1, row.depth)),
                    cells));
        }
        return new MatrixView(change, total(), matrixWindow.firstColumn, rows, find.flatMap(this::place), opened);
    }

    private MatrixCell cell(int i, RoaringBitmap who) {
        Setting setting = layout.settings.get(i);
        Map<Value, Integer> values = new HashMap<>();
        Set<RungKind> rungs = new HashSet<>();
        Set<Standing> standings = new HashSet<>();
        int left = who.getCardinality();
        for (Segment<Outcome> segment : shares.get(i)) {
            if (left == 0) break;
            int here = RoaringBitmap.andCardinality(segment.accounts(), who);
            if (here == 0) continue;
            left -= here;
            values.merge(segment.what().value(), here, Integer::sum);
            rungs.add(segment.what().rung().kind());
            standings.add(segment.what().standing());
        }
        List<Map.Entry<Value, Integer>> sorted = new ArrayList<>(values.entrySet());
        sorted.sort(Map.Entry.<Value, Integer>comparingByValue()
                .reversed()
                .thenComparing(e -> estateFormatter.value(e.getKey())));
        List<CellSegment> told = sorted.stream()
                .limit(SHARES_TOLD)
                .map(e -> new CellSegment(
                        estateFormatter.value(setting, e.getKey()), e.getKey().json(), e.getValue()))
                .toList();
        return new MatrixCell(
                told,
                Math.max(0, sorted.size() - SHARES_TOLD),
                rungs.size() == 1 ? Optional.of(rungs.iterator().next()) : Optional.empty(),
                standings.size() == 1 ? Optional.of(standings.iterator().next()) : Optional.empty(),
                RoaringBitmap.intersects(drafted.get(i), who));
    }

    /** All rows as comma-separated values, each made when it is written. */
    CsvResponse csvResponse() {
        List<String> headings = new ArrayList<>(List.of("kind", "name", "accounts"));
        layout.settings.forEach(s -> headings.add(s.title()));
        return new CsvResponse("matrix.csv", headings, AccountPage.lines(rows(0, Integer.MAX_VALUE / 2), this::line));
    }

    private List<String> line(Row row) {
        List<String> line =
                new ArrayList<>(List.of(JsonWriter.word(row.kind), row.name, String.valueOf(row.who.getCardinality())));
        for (int i = 0; i < columns.size(); i++) {
            List<CellSegment> told = cell(i, row.who).shares;
            List<String> texts = new ArrayList<>();
            for (CellSegment share : told)
                texts.add(told.size() == 1 ? share.value : share.value + ": " + share.accounts);
            line.add(String.join("; ", texts));
        }
        return line;
    }
}
