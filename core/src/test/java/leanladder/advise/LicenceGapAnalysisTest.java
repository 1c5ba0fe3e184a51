package leanladder.advise;

import static leanladder.RandomEstate.NOW;
import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.Optional;
import java.util.stream.IntStream;
import leanladder.RandomEstate;
import leanladder.catalogue.Need;
import leanladder.catalogue.Setting;
import leanladder.edit.session.EditSession;
import leanladder.estate.Account;
import leanladder.json.Defects;
import leanladder.json.Json;
import leanladder.json.JsonCursor;
import leanladder.resolve.AccountResolver;
import leanladder.resolve.ColumnResolver;
import leanladder.resolve.CompiledEstate;
import leanladder.resolve.EvaluationContext;
import leanladder.resolve.Outcome;
import leanladder.seat.Entitlements;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import org.roaringbitmap.RoaringBitmap;

/** What it would take agrees with the gates that each account meets on its climb. */
class LicenceGapAnalysisTest {
    private static final EvaluationContext QUESTION = new EvaluationContext(NOW, Optional.empty());

    private static LicenceGapAnalysis of(CompiledEstate compiledEstate, Setting setting) {
        ColumnResolver columnResolver = new ColumnResolver(compiledEstate, QUESTION, compiledEstate.seats(NOW));
        return new LicenceGapAnalysis(
                columnResolver, List.of(setting), compiledEstate.directory().active(), NOW);
    }

    @Property(tries = 150)
    void whoFailsANeedIsWhoseGateIsClosed(@ForAll long seed) {
        CompiledEstate compiledEstate = new CompiledEstate(RandomEstate.read(RandomEstate.json(seed)));
        Entitlements seats = compiledEstate.seats(NOW);
        for (Setting setting : compiledEstate.estate().catalogue().settings().values()) {
            if (setting.needs().isEmpty()) continue;
            LicenceGapAnalysis required = of(compiledEstate, setting);
            for (Account account : compiledEstate.estate().accounts()) {
                if (!account.active()) continue;
                int number = compiledEstate.directory().number(account.id());
                Outcome outcome = new AccountResolver(compiledEstate, QUESTION, seats, account).outcome(setting);
                boolean allAsked =
                        IntStream.range(0, setting.needs().size()).allMatch(i -> setting.asks(i, outcome.decided()));
                if (!allAsked) continue;
                List<Need> failing = required.gaps().stream()
                        .filter(g -> g.failing().contains(number))
                        .map(LicenceGapAnalysis.Gap::need)
                        .toList();
                assertThat(failing)
                        .containsExactlyInAnyOrderElementsOf(
                                List.copyOf(new java.util.LinkedHashSet<>(outcome.blockedBy())));
                assertThat(required.ready().contains(number)).isEqualTo(failing.isEmpty());
                for (LicenceGapAnalysis.Gap gap : required.gaps())
                    assertThat(gap.alone().contains(number))
                            .isEqualTo(failing.size() == 1 && failing.contains(gap.need()));
            }
        }
    }

    /** What a setting asks of another stands in nobody's way where both are asked for; what that one asks for does. */
    @Property(tries = 150)
    void whatIsAskedForItselfStandsInNobodysWay(@ForAll long seed) {
        CompiledEstate compiledEstate = new CompiledEstate(RandomEstate.read(RandomEstate.json(seed)));
        ColumnResolver columnResolver = new ColumnResolver(compiledEstate, QUESTION, compiledEstate.seats(NOW));
        var catalogue = compiledEstate.estate().catalogue();
        for (Setting setting : catalogue.settings().values())
            for (Need need : setting.needs()) {
                if (!(need instanceof Need.ExactSetting exactSetting)) continue;
                List<Setting> both = List.of(
                        setting, catalogue.setting(exactSetting.setting()).orElseThrow());
                RoaringBitmap ready = compiledEstate.directory().active().clone();
                for (Setting one : both)
                    for (Need other : one.needs())
                        if (!asksFor(other, both)) ready.andNot(columnResolver.failing(one, other));
                LicenceGapAnalysis required = new LicenceGapAnalysis(
                        columnResolver, both, compiledEstate.directory().active(), NOW);
                assertThat(required.ready()).isEqualTo(ready);
                for (LicenceGapAnalysis.Gap gap : required.gaps())
                    assertThat(gap.within()).isEqualTo(asksFor(gap.need(), both));
            }
    }

    private static boolean asksFor(Need need, List<Setting> settings) {
        List<String> keys = settings.stream().map(Setting::key).toList();
        if (need instanceof Need.AnyOf any) return any.needs().stream().anyMatch(n -> asksFor(n, settings));
        return need instanceof Need.ExactSetting exactSetting && keys.contains(exactSetting.setting())
                || need instanceof Need.MinimumSetting other && keys.contains(other.setting());
    }

    /** Whoever an offer says it would do for has no licence missing once everybody has a seat of that plan. */
    @Property(tries = 150)
    void seatsOfAnOfferedPlanFillTheGap(@ForAll long seed) {
        CompiledEstate compiledEstate =
                new CompiledEstate(RandomEstate.read(RandomEstate.json(seed))).withSeatsGiven(NOW);
        for (Setting setting : compiledEstate.estate().catalogue().settings().values()) {
            if (setting.needs().stream().noneMatch(Need.Entitlement.class::isInstance)) continue;
            for (LicenceGapAnalysis.Offer offer : of(compiledEstate, setting).offers()) {
                assertThat(offer.shortBy(false)).isGreaterThanOrEqualTo(offer.shortBy(true));
                EditSession editSession = new EditSession(compiledEstate, (section, key) -> Json.NODES.objectNode());
                String plan = offer.plan().id();
                StringBuilder accounts = new StringBuilder();
                offer.fresh()
                        .forEach((int n) -> accounts.append(accounts.isEmpty() ? "" : ",")
                                .append(Json.NODES.textNode(
                                        compiledEstate.directory().account(n).id())));
                if (accounts.isEmpty()) continue;
                for (String edit : List.of(
                        "{\"kind\":\"buy-seats\",\"plan\":\"" + plan + "\",\"purchase\":{\"seats\":1000}}",
                        "{\"kind\":\"give-seats\",\"plan\":\"" + plan + "\",\"accounts\":[" + accounts + "]}"))
                    assertThat(editSession.apply(new JsonCursor(Json.read(edit), "", new Defects())))
                            .isPresent();
                LicenceGapAnalysis after = of(editSession.compile(), setting);
                var still = offer.fresh().clone();
                still.and(after.unlicensed());
                assertThat(still.isEmpty()).isTrue();
            }
        }
    }
}
