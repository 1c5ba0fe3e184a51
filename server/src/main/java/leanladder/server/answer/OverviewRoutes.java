package leanladder.server.answer;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import leanladder.catalogue.Setting;
import leanladder.estate.Unit;
import leanladder.reach.Directory;
import leanladder.reach.Height;
import leanladder.resolve.Column;
import leanladder.resolve.Outcome;
import leanladder.resolve.Share;
import leanladder.server.draft.Inquiry;
import leanladder.server.http.Answer;
import leanladder.server.http.Api;
import leanladder.server.http.Call;
import leanladder.server.http.Query;
import leanladder.server.http.Room;
import org.roaringbitmap.RoaringBitmap;

/** The whole estate at a glance: what is decided on which rung, and where people have something else than most. */
public record OverviewRoutes(Inquiry.Reader inquiries) implements Room {
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
    public record RungOverview(Height height, long cells, int accounts, int settings, List<SettingCount> most) {}

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
    public void routes(Api api) {
        api.get("/overview", this::overview, Overview.class);
    }

    private Answer overview(Call call) {
        Query query = call.query(Set.of("draft"));
        Inquiry inquiry = inquiries.of(query);
        return Answer.of(inquiry.moment().view(OverviewRoutes.class, () -> of(inquiry)));
    }

    /** Goes through every cell once, bitmap by bitmap. */
    private static Overview of(Inquiry inquiry) {
        Directory directory = inquiry.directory();
        RoaringBitmap active = directory.active();
        List<Unit> units = directory.tree().children(directory.tree().root()).stream()
                .sorted(Comparator.comparingInt(
                                (Unit u) -> RoaringBitmap.andCardinality(directory.inOrBelow(u.id()), active))
                        .reversed())
                .limit(UNITS_NAMED)
                .toList();
        Map<Height, Count> rungs = new EnumMap<>(Height.class);
        for (Height height : Height.values()) rungs.put(height, new Count());
        List<Count> differing = units.stream().map(u -> new Count()).toList();
        List<Setting> settings =
                List.copyOf(inquiry.estate().catalogue().settings().values());
        for (Setting setting : settings) {
            Column column = inquiry.moment().solution().column(setting.key());
            Map<Height, RoaringBitmap> byRung = new EnumMap<>(Height.class);
            for (Share<Outcome> share : column.shares())
                byRung.computeIfAbsent(share.what().rung().height(), h -> new RoaringBitmap())
                        .or(share.accounts());
            byRung.forEach((height, accounts) -> rungs.get(height).add(setting, accounts));
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
                inquiry.snapshot().change(),
                active.getCardinality(),
                settings.size(),
                (long) active.getCardinality() * settings.size(),
                rungs.entrySet().stream()
                        .filter(r -> r.getKey() != Height.WORKSPACE)
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
