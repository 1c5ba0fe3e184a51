package leanladder.server;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import io.javalin.http.Context;
import java.io.IOException;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import leanladder.catalogue.Default;
import leanladder.catalogue.Need;
import leanladder.catalogue.Setting;
import leanladder.catalogue.Value;
import leanladder.change.Ripple;
import leanladder.document.Defects;
import leanladder.document.Place;
import leanladder.estate.Account;
import leanladder.estate.Group;
import leanladder.estate.Unit;
import leanladder.reach.Directory;
import leanladder.reach.Height;
import leanladder.resolve.Column;
import leanladder.resolve.Outcome;
import leanladder.resolve.Share;
import leanladder.resolve.Solution;
import leanladder.tell.Wording;
import org.roaringbitmap.RoaringBitmap;

/**
 * The estate as one matrix: rows are the unit tree, opened down to people, or groups; columns are settings. Asked for in windows
 * of rows. What a window costs is the units in sight and the shares of each column, not the accounts.
 */
record SpreadRoutes(Estates estates) {
    private static final int MOST_ROWS = 500;
    private static final int MOST_COLUMNS = 300;
    private static final int SHARES_TOLD = 5;

    /** A row: a unit, a group, or an account below one of them. */
    private record Row(
            String kind, String id, String name, String more, int depth, RoaringBitmap who, boolean openable) {}

    /** Rows that come one after the other: one unit or group, or the people of one. */
    private record Stretch(Optional<Row> head, RoaringBitmap people, int depth) {
        int size() {
            return head.isPresent() ? 1 : people.getCardinality();
        }
    }

    /**
     * The part of the matrix that is asked for.
     *
     * @param from the first row
     * @param firstColumn the first setting
     */
    private record Window(int from, int count, int firstColumn, int columns) {}

    /** What is asked for, read and checked; the same for every window of one matrix. */
    private record Asked(
            List<Setting> settings,
            boolean groups,
            boolean allOpen,
            boolean unitsOpen,
            Set<String> open,
            Set<String> shut,
            String filter) {
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

    void spread(Context ctx) throws IOException {
        Query query = new Query(ctx, estates.now(), Query.about("format"), Set.of());
        Query.Asked about = query.asked(estates);
        Present present = about.estate();
        Defects defects = new Defects();
        Place body = new Place(Bodies.read(ctx), "", defects);
        Asked asked = read(body, present);
        Window window = new Window(
                number(body, "from", 0, Integer.MAX_VALUE),
                number(body, "count", 100, MOST_ROWS),
                Math.min(number(body, "firstColumn", 0, MOST_COLUMNS), asked.settings.size()),
                number(body, "columns", MOST_COLUMNS, MOST_COLUMNS));
        if (!defects.isEmpty()) throw Problem.defects(422, "Refused", defects.all());
        Optional<Carried> carried = query.one("draft")
                .map(d -> estates.drafts().carried(estates.drafts().draft(Long.parseLong(d))));
        boolean csv = query.isCsv();
        Optional<Ripple> ripple = carried.map(Carried::ripple);
        present.moment(about.question())
                .view(
                        new Key(asked, ripple),
                        solution -> new Matrix(
                                present,
                                solution,
                                asked,
                                ripple,
                                about.question().at()),
                        matrix -> {
                            if (csv) matrix.csv(ctx);
                            else Answers.json(ctx, matrix.json(window, present.change()));
                            return null;
                        });
    }

    private record Key(Asked asked, Optional<Ripple> ripple) {}

    private static Asked read(Place root, Present present) {
        List<Setting> settings = new ArrayList<>();
        if (root.isObject()) {
            List<Place> keys = root.required("settings").map(Place::items).orElse(List.of());
            if (keys.size() > MOST_COLUMNS)
                root.member("settings").orElseThrow().defect("must not name more than " + MOST_COLUMNS + " settings");
            for (Place key : keys)
                key.text()
                        .ifPresent(k -> present.ground()
                                .estate()
                                .catalogue()
                                .setting(k)
                                .ifPresentOrElse(settings::add, () -> key.defect("names no setting of the catalogue")));
        }
        boolean groups = root.member("rows")
                .flatMap(p -> p.word(Map.of("units", false, "groups", true)))
                .orElse(false);
        Set<String> open = new HashSet<>();
        Optional<String> opened = root.member("open")
                .filter(p -> p.node().isTextual())
                .flatMap(p -> p.word(Map.of("all", "all", "units", "units")));
        if (opened.isEmpty())
            for (Place id : root.member("open")
                    .filter(p -> !p.node().isTextual())
                    .map(Place::items)
                    .orElse(List.of())) id.text().ifPresent(open::add);
        Set<String> shut = new HashSet<>();
        for (Place id : root.items("shut")) id.text().ifPresent(shut::add);
        String filter = root.member("filter")
                .filter(p -> !p.node().isNull())
                .flatMap(p -> p.word(Map.of(
                        "not-built-in", "not-built-in", "mixed", "mixed", "blocked", "blocked", "drafted", "drafted")))
                .orElse("");
        return new Asked(
                settings,
                groups,
                opened.equals(Optional.of("all")),
                opened.equals(Optional.of("units")),
                open,
                shut,
                filter);
    }

    private static int number(Place root, String name, int otherwise, int most) {
        return root.member(name)
                .flatMap(Place::integer)
                .map(n -> n.bitLength() > 31 ? most : Math.max(0, Math.min(most, n.intValue())))
                .orElse(otherwise);
    }

    /** The matrix of one question. */
    private static final class Matrix {
        private final Directory directory;
        private final Asked asked;
        private final Wording wording;
        private final List<Column> columns = new ArrayList<>();
        /** The shares of each column, those with most accounts first. */
        private final List<List<Share<Outcome>>> shares = new ArrayList<>();

        private final List<RoaringBitmap> drafted = new ArrayList<>();
        private final Optional<RoaringBitmap> wanted;
        private final List<Stretch> stretches = new ArrayList<>();
        private final Map<String, Boolean> mixed = new HashMap<>();

        Matrix(Present present, Solution solution, Asked asked, Optional<Ripple> ripple, Instant at) {
            this.directory = present.ground().directory();
            this.asked = asked;
            this.wording = new Wording(present.ground().estate(), at);
            for (Setting setting : asked.settings) {
                Column column = solution.column(setting.key());
                columns.add(column);
                List<Share<Outcome>> sorted = new ArrayList<>(column.shares());
                sorted.sort(Comparator.<Share<Outcome>>comparingInt(
                                s -> s.accounts().getCardinality())
                        .reversed());
                shares.add(sorted);
                RoaringBitmap changed = new RoaringBitmap();
                ripple.ifPresent(r -> r.moves().stream()
                        .filter(m -> m.setting().key().equals(setting.key()))
                        .forEach(m -> changed.or(m.accounts())));
                drafted.add(changed);
            }
            wanted = wanted();
            if (asked.groups) groups(present);
            else units(directory.tree().root(), 0);
        }

        /** Those whom the filter lets through; empty when every row counts, or rows are looked at one by one. */
        private Optional<RoaringBitmap> wanted() {
            if (asked.filter.isEmpty() || asked.filter.equals("mixed")) return Optional.empty();
            RoaringBitmap set = new RoaringBitmap();
            if (asked.filter.equals("drafted")) {
                drafted.forEach(set::or);
                return Optional.of(set);
            }
            for (int i = 0; i < columns.size(); i++) {
                Setting setting = asked.settings.get(i);
                for (Share<Outcome> share : columns.get(i).shares())
                    if (asked.filter.equals("blocked")
                            ? isUnlicensed(share.what())
                            : isNotBuiltIn(setting, share.what())) set.or(share.accounts());
            }
            return Optional.of(set);
        }

        private static boolean isUnlicensed(Outcome outcome) {
            return outcome.blockedBy().stream().anyMatch(n -> n instanceof Need.Entitlement);
        }

        private static boolean isNotBuiltIn(Setting setting, Outcome outcome) {
            if (setting.builtIn() instanceof Default.Fixed fixed)
                return !fixed.value().equals(outcome.value());
            return outcome.rung().height() != Height.BUILTIN;
        }

        private RoaringBitmap active(RoaringBitmap set) {
            return RoaringBitmap.and(set, directory.active());
        }

        private boolean passes(String id, RoaringBitmap who) {
            if (asked.filter.equals("mixed")) return isMixed(id, who);
            return wanted.isEmpty() || RoaringBitmap.intersects(wanted.get(), who);
        }

        private boolean isMixed(String id, RoaringBitmap who) {
            return mixed.computeIfAbsent(id, k -> {
                int size = who.getCardinality();
                for (Column column : columns) {
                    boolean uniform = size == 0
                            || column.inForce().values().stream()
                                    .anyMatch(v -> RoaringBitmap.andCardinality(v, who) == size);
                    if (!uniform) return true;
                }
                return false;
            });
        }

        private void units(String id, int depth) {
            RoaringBitmap who = active(directory.inOrBelow(id));
            if (!passes(id, who)) return;
            Unit unit = directory.tree().unit(id);
            boolean openable = !directory.tree().children(id).isEmpty()
                    || !directory.directlyIn(id).isEmpty();
            stretches.add(
                    new Stretch(Optional.of(new Row("unit", id, unit.name(), "", depth, who, openable)), who, depth));
            if (!asked.isOpen(id, depth)) return;
            for (Unit child : directory.tree().children(id)) units(child.id(), depth + 1);
            if (asked.showsPeople(id)) people(active(directory.directlyIn(id)), depth + 1);
        }

        private void groups(Present present) {
            List<Group> groups = new ArrayList<>(present.ground().estate().groups());
            groups.sort(Comparator.comparing(Group::name, java.text.Collator.getInstance(java.util.Locale.UK)));
            for (Group group : groups) {
                RoaringBitmap who = active(directory.members(group.id()));
                if (!passes("group " + group.id(), who)) continue;
                stretches.add(new Stretch(
                        Optional.of(new Row(
                                "group",
                                group.id(),
                                group.name(),
                                group.access() ? "" : "mailing",
                                0,
                                who,
                                !who.isEmpty())),
                        who,
                        0));
                if (asked.isOpen(group.id(), 1)) people(who, 1);
            }
        }

        private void people(RoaringBitmap who, int depth) {
            RoaringBitmap shown = wanted.map(w -> RoaringBitmap.and(w, who)).orElse(who);
            if (!shown.isEmpty()) stretches.add(new Stretch(Optional.empty(), shown, depth));
        }

        /** The rows of the window. Only people of stretches that reach into it are put in order. */
        private List<Row> rows(int from, int count) {
            List<Row> rows = new ArrayList<>();
            int at = 0;
            for (Stretch stretch : stretches) {
                int size = stretch.size();
                if (at + size > from && at < from + count) {
                    if (stretch.head.isPresent()) rows.add(stretch.head.get());
                    else {
                        List<Account> people = directory.byName(stretch.people);
                        int first = Math.max(0, from - at);
                        int last = Math.min(size, from + count - at);
                        for (Account a : people.subList(first, last))
                            rows.add(new Row(
                                    "account",
                                    a.id(),
                                    a.displayName(),
                                    a.title().orElse(""),
                                    stretch.depth,
                                    RoaringBitmap.bitmapOf(directory.number(a.id())),
                                    false));
                    }
                }
                at += size;
                if (at >= from + count) break;
            }
            return rows;
        }

        private int total() {
            return stretches.stream().mapToInt(Stretch::size).sum();
        }

        ObjectNode json(Window window, long change) {
            ObjectNode told = Answers.object();
            told.put("change", change);
            told.put("total", total());
            told.put("firstColumn", window.firstColumn);
            int end = Math.min(columns.size(), window.firstColumn + window.columns);
            ArrayNode rows = told.putArray("rows");
            for (Row row : rows(window.from, window.count)) {
                ObjectNode one = rows.addObject();
                one.put("kind", row.kind)
                        .put("id", row.id)
                        .put("name", row.name)
                        .put("depth", row.depth);
                if (!row.more.isEmpty()) one.put("more", row.more);
                one.put("accounts", row.who.getCardinality());
                boolean root = row.kind.equals("unit") && row.depth == 0;
                one.put("openable", row.openable && !root)
                        .put("open", root || row.openable && asked.isOpen(row.id, Math.max(1, row.depth)));
                ArrayNode cells = one.putArray("cells");
                for (int i = window.firstColumn; i < end; i++) cells.add(cell(i, row.who));
            }
            return told;
        }

        private ObjectNode cell(int i, RoaringBitmap who) {
            Setting setting = asked.settings.get(i);
            ObjectNode cell = Answers.object();
            Map<Value, Integer> values = new HashMap<>();
            Set<String> rungs = new HashSet<>();
            Set<String> standings = new HashSet<>();
            int left = who.getCardinality();
            for (Share<Outcome> share : shares.get(i)) {
                if (left == 0) break;
                int here = RoaringBitmap.andCardinality(share.accounts(), who);
                if (here == 0) continue;
                left -= here;
                values.merge(share.what().value(), here, Integer::sum);
                rungs.add(share.what().rung().height().word());
                standings.add(share.what().standing().word());
            }
            ArrayNode shares = cell.putArray("shares");
            List<Map.Entry<Value, Integer>> sorted = new ArrayList<>(values.entrySet());
            sorted.sort(Map.Entry.<Value, Integer>comparingByValue()
                    .reversed()
                    .thenComparing(e -> wording.value(e.getKey())));
            for (var entry : sorted.subList(0, Math.min(SHARES_TOLD, sorted.size())))
                shares.addObject()
                        .put("value", wording.value(setting, entry.getKey()))
                        .put("accounts", entry.getValue());
            if (sorted.size() > SHARES_TOLD) cell.put("more", sorted.size() - SHARES_TOLD);
            if (rungs.size() == 1) cell.put("rung", rungs.iterator().next());
            if (standings.size() == 1) cell.put("standing", standings.iterator().next());
            if (RoaringBitmap.intersects(drafted.get(i), who)) cell.put("drafted", true);
            return cell;
        }

        void csv(Context ctx) {
            String[] header = new String[columns.size() + 3];
            header[0] = "kind";
            header[1] = "name";
            header[2] = "accounts";
            for (int i = 0; i < columns.size(); i++)
                header[i + 3] = asked.settings.get(i).title();
            Csv csv = new Csv(ctx, "spread.csv", header);
            for (Row row : rows(0, Integer.MAX_VALUE / 2)) {
                String[] line = new String[header.length];
                line[0] = row.kind;
                line[1] = row.name;
                line[2] = String.valueOf(row.who.getCardinality());
                for (int i = 0; i < columns.size(); i++) {
                    List<String> shares = new ArrayList<>();
                    JsonNode told = cell(i, row.who).get("shares");
                    for (JsonNode share : told)
                        shares.add(
                                told.size() == 1
                                        ? share.get("value").asText()
                                        : share.get("value").asText() + ": "
                                                + share.get("accounts").asInt());
                    line[i + 3] = String.join("; ", shares);
                }
                csv.line(line);
            }
            csv.end();
        }
    }
}
