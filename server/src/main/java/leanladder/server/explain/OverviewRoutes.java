package leanladder.server.explain;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import leanladder.catalogue.Setting;
import leanladder.estate.Unit;
import leanladder.reach.Directory;
import leanladder.reach.RungKind;
import leanladder.resolve.Column;
import leanladder.resolve.Outcome;
import leanladder.resolve.Segment;
import leanladder.server.http.QueryParameters;
import leanladder.server.http.RequestContext;
import leanladder.server.http.Response;
import leanladder.server.http.RouteGroup;
import leanladder.server.http.RouteRegistry;
import leanladder.server.query.QueryContext;
import org.roaringbitmap.RoaringBitmap;

/** The whole estate at a glance: what is decided on which rung, and where people have something else than most. */
public record OverviewRoutes(QueryContext.Reader queries) implements RouteGroup {
    private static final int SETTINGS_NAMED = 3;
    private static final int UNITS_NAMED = 10;

    /** A setting, and for how many accounts it is so. */
    public record SettingCount(String setting, String title, int accounts) {}

    /**
     * What is decided on a rung.
     *
     * @param cells pairs of an account and a setting
     * @param accounts for whom at least one setting is decided there
     * @param settings of which at least one cell is decided there
     * @param most the settings that are decided there for most accounts
     */
    public record RungOverview(RungKind height, long cells, int accounts, int settings, List<SettingCount> most) {}

    /**
     * A unit directly below the organisation.
     *
     * @param accounts in it or below it
     * @param differing those among them who have some value that most of the organisation do not have
     * @param cells in which they do
     * @param most the settings by which most of them differ
     */
    public record UnitOverview(
            String id, String name, int accounts, int differing, long cells, List<SettingCount> most) {}

    /** The whole estate. @param cells pairs of an active account and a setting */
    public record Overview(
            long change, int accounts, int settings, long cells, List<RungOverview> rungs, List<UnitOverview> units) {}

    /** What is counted while columns are gone through. */
    private static final class Count {
        private final RoaringBitmap accounts = new RoaringBitmap();
        private final List<SettingCount> settings = new ArrayList<>();
        private long cells;

        void add(Setting setting, RoaringBitmap here) {
            int accountsHere = here.getCardinality();
            if (accountsHere == 0) return;
            accounts.or(here);
            settings.add(new SettingCount(setting.key(), setting.title(), accountsHere));
            cells += accountsHere;
        }

        List<SettingCount> most() {
            return settings.stream()
                    .sorted(Comparator.comparingInt(SettingCount::accounts).reversed())
                    .limit(SETTINGS_NAMED)
                    .toList();
        }
    }

    @Override
    public void routes(RouteRegistry routeRegistry) {
        routeRegistry.get("/overview", this::overview, Overview.class);
    }

    private Response overview(RequestContext requestContext) {
        QueryParameters queryParameters = requestContext.query(Set.of("draft"));
        QueryContext queryContext = queries.read(queryParameters);
        return Response.of(queryContext.instantResolution().view(OverviewRoutes.class, () -> of(queryContext)));
    }

    /** Goes through every cell once, bitmap by bitmap. */
    private static Overview of(QueryContext queryContext) {
        Directory directory = queryContext.directory();
        RoaringBitmap active = directory.active();
        List<Unit> units = directory.tree().children(directory.tree().root()).stream()
                .sorted(Comparator.comparingInt(
                                (Unit u) -> RoaringBitmap.andCardinality(directory.inOrBelow(u.id()), active))
                        .reversed())
                .limit(UNITS_NAMED)
                .toList();
        Map<RungKind, Count> rungs = new EnumMap<>(RungKind.class);
        for (RungKind rungKind : RungKind.values()) rungs.put(rungKind, new Count());
        List<Count> differing = units.stream().map(u -> new Count()).toList();
        List<Setting> settings =
                List.copyOf(queryContext.estate().catalogue().settings().values());
        for (Setting setting : settings) {
            Column column = queryContext.instantResolution().columnResolver().column(setting.key());
            Map<RungKind, RoaringBitmap> byRung = new EnumMap<>(RungKind.class);
            for (Segment<Outcome> segment : column.shares())
                byRung.computeIfAbsent(segment.what().rung().kind(), h -> new RoaringBitmap())
                        .or(segment.accounts());
            byRung.forEach((rungKind, accounts) ->
                    Objects.requireNonNull(rungs.get(rungKind)).add(setting, accounts));
            RoaringBitmap others = otherThanMost(column, active);
            if (others.isEmpty()) continue;
            for (int u = 0; u < units.size(); u++)
                differing
                        .get(u)
                        .add(
                                setting,
                                RoaringBitmap.and(
                                        others, directory.inOrBelow(units.get(u).id())));
        }
        List<UnitOverview> places = new ArrayList<>();
        for (int u = 0; u < units.size(); u++)
            places.add(new UnitOverview(
                    units.get(u).id(),
                    units.get(u).name(),
                    RoaringBitmap.andCardinality(
                            directory.inOrBelow(units.get(u).id()), active),
                    differing.get(u).accounts.getCardinality(),
                    differing.get(u).cells,
                    differing.get(u).most()));
        return new Overview(
                queryContext.snapshot().change(),
                active.getCardinality(),
                settings.size(),
                (long) active.getCardinality() * settings.size(),
                rungs.entrySet().stream()
                        .filter(r -> r.getKey() != RungKind.WORKSPACE && r.getKey() != RungKind.HOSTING)
                        .map(r -> new RungOverview(
                                r.getKey(),
                                r.getValue().cells,
                                r.getValue().accounts.getCardinality(),
                                r.getValue().settings.size(),
                                r.getValue().most()))
                        .toList(),
                places);
    }

    private static RoaringBitmap otherThanMost(Column column, RoaringBitmap active) {
        return column.inForce().values().stream()
                .max(Comparator.comparingInt(RoaringBitmap::getCardinality))
                .map(most -> RoaringBitmap.andNot(active, most))
                .orElseGet(RoaringBitmap::new);
    }
}
