package leanladder.resolve;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.stream.IntStream;
import leanladder.catalogue.Catalogue;
import leanladder.catalogue.Need;
import leanladder.catalogue.Setting;
import leanladder.seat.Entitlements;
import org.roaringbitmap.RoaringBitmap;

/**
 * The columns of settings for a few accounts, for each of which the ladder is climbed: the same as {@link ColumnResolver#among}, which first
 * finds whom every policy reaches, and so costs less only where the accounts are many. Not safe for use by several threads.
 */
public final class PerAccountColumns {
    /** @param known outcomes that were climbed to ahead, by setting */
    private record AccountOutcomes(int account, AccountResolver climber, Map<String, Outcome> known) {
        AccountOutcomes(int account, AccountResolver climber) {
            this(account, climber, new HashMap<>());
        }

        Outcome outcome(Setting setting) {
            Outcome outcome = known.get(setting.key());
            return outcome == null ? climber.outcome(setting) : outcome;
        }
    }

    private final CompiledEstate compiledEstate;
    private final List<AccountOutcomes> all;

    private PerAccountColumns(CompiledEstate compiledEstate, List<AccountOutcomes> all) {
        this.compiledEstate = compiledEstate;
        this.all = all;
    }

    /** @param among numbers of active accounts */
    public PerAccountColumns(
            RoaringBitmap among,
            CompiledEstate compiledEstate,
            EvaluationContext evaluationContext,
            Entitlements entitlements) {
        this(compiledEstate, new ArrayList<>());
        among.forEach((int account) -> all.add(new AccountOutcomes(
                account,
                new AccountResolver(
                        compiledEstate,
                        evaluationContext,
                        entitlements,
                        compiledEstate.directory().account(account),
                        Set.of()))));
    }

    /** The same after edits that alter no policy, and neither a group nor a unit nor who is active. */
    public PerAccountColumns after(CompiledEstate edited, Entitlements entitlements) {
        return new PerAccountColumns(
                edited,
                all.stream()
                        .map(one -> new AccountOutcomes(
                                one.account,
                                one.climber.after(
                                        edited, entitlements, edited.directory().account(one.account))))
                        .toList());
    }

    /**
     * For each setting to whose outcomes it can matter, the accounts to whom a release has come here and not there, or there and not here.
     * Where nothing but words on previews differs, all other outcomes are the same. On all cores; an account of both sides is looked at by
     * one thread, for the two climbers share what policies reach.
     *
     * @param others those of this {@link #after}
     */
    public Map<String, RoaringBitmap> releasedOtherwise(PerAccountColumns others) {
        Catalogue catalogue = compiledEstate.estate().catalogue();
        Map<String, RoaringBitmap> otherwise = new HashMap<>();
        Set<String> asking = catalogue.asking(Need.ReleaseNeed.class);
        List<List<String>> each = IntStream.range(0, all.size())
                .parallel()
                .mapToObj(i -> asking.stream()
                        .filter(key -> all.get(i).climber.hasArrived(key)
                                != others.all.get(i).climber.hasArrived(key))
                        .toList())
                .toList();
        for (int i = 0; i < each.size(); i++)
            for (String key : each.get(i))
                otherwise.computeIfAbsent(key, k -> new RoaringBitmap()).add(all.get(i).account);
        for (Setting setting : catalogue.withDependents(List.copyOf(otherwise.keySet())))
            for (String other : catalogue.dependencies(setting.key()))
                if (otherwise.containsKey(other))
                    otherwise
                            .computeIfAbsent(setting.key(), k -> new RoaringBitmap())
                            .or(otherwise.get(other));
        return otherwise;
    }

    /** Climbs ahead to the outcomes of settings for some accounts each, on all cores. */
    public void climb(Map<String, RoaringBitmap> whom) {
        List<Setting> settings = compiledEstate.estate().catalogue().withDependents(List.copyOf(whom.keySet())).stream()
                .filter(s -> whom.containsKey(s.key()))
                .toList();
        all.parallelStream()
                .forEach(one -> settings.stream()
                        .filter(s -> Objects.requireNonNull(whom.get(s.key())).contains(one.account))
                        .forEach(s -> one.known.put(s.key(), one.climber.outcome(s))));
    }

    /**
     * The outcomes of a setting of the catalogue; whether they depend on the workspace is not told. A climb for each account.
     *
     * @param whom of the accounts, those who are looked at
     */
    public Column column(String key, RoaringBitmap whom) {
        Setting setting = compiledEstate.estate().catalogue().setting(key).orElseThrow();
        Map<Outcome, RoaringBitmap> shares = new LinkedHashMap<>();
        for (AccountOutcomes one : all)
            if (whom.contains(one.account))
                shares.computeIfAbsent(one.outcome(setting), o -> new RoaringBitmap())
                        .add(one.account);
        return new Column(shares.entrySet().stream()
                .map(s -> new Segment<>(s.getKey(), s.getValue()))
                .toList());
    }
}
