package leanladder.advise;

import static leanladder.RandomEstate.NOW;
import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.Optional;
import leanladder.RandomEstate;
import leanladder.catalogue.Need;
import leanladder.catalogue.Setting;
import leanladder.change.Book;
import leanladder.document.Defects;
import leanladder.document.Json;
import leanladder.document.Place;
import leanladder.estate.Account;
import leanladder.resolve.Climber;
import leanladder.resolve.Ground;
import leanladder.resolve.Outcome;
import leanladder.resolve.Question;
import leanladder.resolve.Solution;
import leanladder.seat.Entitlements;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import org.roaringbitmap.RoaringBitmap;

/** What it would take agrees with the gates that each account meets on its climb. */
class RequirementTest {
    private static final Question QUESTION = new Question(NOW, Optional.empty());

    private static Requirement of(Ground ground, Setting setting) {
        Solution solution = new Solution(ground, QUESTION, ground.seats(NOW));
        return new Requirement(solution, List.of(setting), ground.directory().active(), NOW);
    }

    @Property(tries = 150)
    void whoFailsANeedIsWhoseGateIsClosed(@ForAll long seed) {
        Ground ground = new Ground(RandomEstate.read(RandomEstate.json(seed)));
        Entitlements seats = ground.seats(NOW);
        for (Setting setting : ground.estate().catalogue().settings().values()) {
            if (setting.needs().isEmpty()) continue;
            Requirement required = of(ground, setting);
            for (Account account : ground.estate().accounts()) {
                if (!account.active()) continue;
                int number = ground.directory().number(account.id());
                Outcome outcome = new Climber(ground, QUESTION, seats, account).outcome(setting);
                if (outcome.decided().equals(setting.fallback().orElseThrow())) continue;
                List<Need> failing = required.gaps().stream()
                        .filter(g -> g.failing().contains(number))
                        .map(Requirement.Gap::need)
                        .toList();
                assertThat(failing)
                        .containsExactlyInAnyOrderElementsOf(
                                List.copyOf(new java.util.LinkedHashSet<>(outcome.blockedBy())));
                assertThat(required.ready().contains(number)).isEqualTo(failing.isEmpty());
                for (Requirement.Gap gap : required.gaps())
                    assertThat(gap.alone().contains(number))
                            .isEqualTo(failing.size() == 1 && failing.contains(gap.need()));
            }
        }
    }

    /** What a setting asks of another stands in nobody's way where both are asked for; what that one asks for does. */
    @Property(tries = 150)
    void whatIsAskedForItselfStandsInNobodysWay(@ForAll long seed) {
        Ground ground = new Ground(RandomEstate.read(RandomEstate.json(seed)));
        Solution solution = new Solution(ground, QUESTION, ground.seats(NOW));
        var catalogue = ground.estate().catalogue();
        for (Setting setting : catalogue.settings().values())
            for (Need need : setting.needs()) {
                if (!(need instanceof Need.Is is)) continue;
                List<Setting> both =
                        List.of(setting, catalogue.setting(is.setting()).orElseThrow());
                RoaringBitmap ready = ground.directory().active().clone();
                for (Setting one : both)
                    for (Need other : one.needs())
                        if (!asksFor(other, both)) ready.andNot(solution.failing(one, other));
                Requirement required =
                        new Requirement(solution, both, ground.directory().active(), NOW);
                assertThat(required.ready()).isEqualTo(ready);
                for (Requirement.Gap gap : required.gaps())
                    assertThat(gap.within()).isEqualTo(asksFor(gap.need(), both));
            }
    }

    private static boolean asksFor(Need need, List<Setting> settings) {
        List<String> keys = settings.stream().map(Setting::key).toList();
        if (need instanceof Need.AnyOf any) return any.needs().stream().anyMatch(n -> asksFor(n, settings));
        return need instanceof Need.Is is && keys.contains(is.setting())
                || need instanceof Need.AsLooseAs other && keys.contains(other.setting());
    }

    /** Whoever an offer says it would do for has no licence missing once everybody has a seat of that plan. */
    @Property(tries = 150)
    void seatsOfAnOfferedPlanFillTheGap(@ForAll long seed) {
        Ground ground = new Ground(RandomEstate.read(RandomEstate.json(seed))).withSeatsGiven(NOW);
        for (Setting setting : ground.estate().catalogue().settings().values()) {
            if (setting.needs().stream().noneMatch(Need.Entitlement.class::isInstance)) continue;
            for (Requirement.Offer offer : of(ground, setting).offers()) {
                assertThat(offer.shortBy(false)).isGreaterThanOrEqualTo(offer.shortBy(true));
                Book book = new Book(ground, (section, key) -> Json.NODES.objectNode());
                String plan = offer.plan().id();
                StringBuilder accounts = new StringBuilder();
                offer.fresh()
                        .forEach((int n) -> accounts.append(accounts.isEmpty() ? "" : ",")
                                .append(Json.NODES.textNode(
                                        ground.directory().account(n).id())));
                if (accounts.isEmpty()) continue;
                for (String edit : List.of(
                        "{\"kind\":\"buy-seats\",\"plan\":\"" + plan + "\",\"purchase\":{\"seats\":1000}}",
                        "{\"kind\":\"give-seats\",\"plan\":\"" + plan + "\",\"accounts\":[" + accounts + "]}"))
                    assertThat(book.apply(new Place(Json.read(edit), "", new Defects())))
                            .isPresent();
                Requirement after = of(book.after(), setting);
                var still = offer.fresh().clone();
                still.and(after.unlicensed());
                assertThat(still.isEmpty()).isTrue();
            }
        }
    }
}
