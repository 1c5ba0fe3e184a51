package leanladder.change;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import java.util.HashSet;
import java.util.List;
import java.util.Random;
import java.util.Set;
import leanladder.RandomEstate;
import leanladder.catalogue.Setting;
import leanladder.estate.Account;
import leanladder.estate.Defects;
import leanladder.estate.Place;
import leanladder.estate.Policy;
import leanladder.resolve.Climber;
import leanladder.resolve.Ground;
import leanladder.resolve.Outcome;
import leanladder.resolve.Question;
import leanladder.seat.Entitlements;
import leanladder.text.Json;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import org.junit.jupiter.api.Test;

class RippleTest {
    private static final Question NOW = Question.at(RandomEstate.NOW);

    /** Random edits, not all of which fit. */
    private static List<String> edits(Ground ground, Random random, int most) {
        List<String> edits = new java.util.ArrayList<>();
        List<Policy> policies = ground.estate().policies();
        List<String> settings =
                List.copyOf(ground.estate().catalogue().settings().keySet());
        for (int i = 0; i < most; i++) {
            Policy policy = policies.get(random.nextInt(policies.size()));
            String id = policy.id();
            String other = policies.get(random.nextInt(policies.size())).id();
            String setting = settings.get(random.nextInt(settings.size()));
            JsonNode said =
                    policies.get(random.nextInt(policies.size())).source().get("statements");
            String statement = said.isEmpty() ? "{}" : Json.write(said.get(random.nextInt(said.size())));
            JsonNode aimed = policy.source().get("assignments");
            String assignment = Json.write(aimed.get(random.nextInt(aimed.size())));
            String[] forms = {
                "{\"kind\":\"remove-policy\",\"policy\":\"" + id + "\"}",
                "{\"kind\":\"rank-policy\",\"policy\":\"" + id + "\",\"above\":\"" + other + "\"}",
                "{\"kind\":\"rank-policy\",\"policy\":\"" + id + "\",\"above\":null}",
                "{\"kind\":\"amend-policy\",\"policy\":\"" + id
                        + "\",\"members\":{\"state\":\"paused\",\"name\":\"Other\"}}",
                "{\"kind\":\"put-statement\",\"policy\":\"" + id + "\",\"statement\":" + statement + "}",
                "{\"kind\":\"remove-statement\",\"policy\":\"" + id + "\",\"setting\":\"" + setting
                        + "\",\"says\":\"set\"}",
                "{\"kind\":\"remove-assignment\",\"policy\":\"" + id + "\",\"assignment\":" + assignment + "}",
                "{\"kind\":\"put-assignment\",\"policy\":\"" + id + "\",\"assignment\":{\"include\":\"organisation\"}}",
                "{\"kind\":\"put-assignment\",\"policy\":\"" + id + "\",\"assignment\":{\"except\":\"account:a1\"}}",
                "{\"kind\":\"add-policy\",\"policy\":{\"name\":\"New\",\"statements\":" + statements(ground, id)
                        + ",\"assignments\":[{\"include\":\"unit:u0\"}]},\"below\":\"" + other + "\"}"
            };
            edits.add(forms[random.nextInt(forms.length)]);
        }
        return edits;
    }

    private static PolicyBook edited(Ground ground, Random random) {
        PolicyBook book = new PolicyBook(ground.estate());
        for (String edit : edits(ground, random, 4)) book.apply(new Place(Json.read(edit), "", new Defects()));
        return book;
    }

    private static String statements(Ground ground, String policy) {
        return Json.write(ground.estate().policy(policy).orElseThrow().source().get("statements"));
    }

    @Property(tries = 300)
    void theRippleIsTheDifferenceOfAllOutcomes(@ForAll long seed) {
        Ground before = new Ground(RandomEstate.read(RandomEstate.json(seed)));
        if (before.estate().policies().isEmpty()) return;
        PolicyBook book = edited(before, new Random(seed));
        Ground after = before.withPolicies(book.policies(), book.ranking());
        Ripple ripple = new Ripple(before, after, NOW, book.touchedSettings());
        var entitlements = new Entitlements(before.estate(), before.directory(), NOW.at());
        Set<Integer> changed = new HashSet<>();
        Set<Integer> elsewhere = new HashSet<>();
        int moved = 0;
        for (Account account : before.estate().accounts()) {
            if (!account.active()) continue;
            int number = before.directory().number(account.id());
            for (Setting setting : before.estate().catalogue().settings().values()) {
                Outcome was = new Climber(before, NOW, entitlements, account).outcome(setting);
                Outcome is = new Climber(after, NOW, entitlements, account).outcome(setting);
                if (!was.value().equals(is.value())) {
                    changed.add(number);
                    moved++;
                } else if (!was.equals(is)) elsewhere.add(number);
            }
        }
        elsewhere.removeAll(changed);
        assertThat(numbers(ripple.changed())).isEqualTo(changed);
        assertThat(ripple.moves().stream()
                        .mapToInt(m -> m.accounts().getCardinality())
                        .sum())
                .isEqualTo(moved);
        assertThat(numbers(ripple.decidedElsewhere())).isEqualTo(elsewhere);
        assertThat(ripple.gainOnly().getCardinality()
                        + ripple.loseOnly().getCardinality()
                        + ripple.both().getCardinality()
                        + ripple.otherOnly().getCardinality())
                .isEqualTo(changed.size());
    }

    private static Set<Integer> numbers(org.roaringbitmap.RoaringBitmap set) {
        Set<Integer> numbers = new HashSet<>();
        set.forEach((int n) -> numbers.add(n));
        return numbers;
    }

    @Property(tries = 300)
    void aChangeAndItsInverseLeaveEverythingAsItWas(@ForAll long seed) {
        Ground before = new Ground(RandomEstate.read(RandomEstate.json(seed)));
        if (before.estate().policies().isEmpty()) return;
        PolicyBook book = new PolicyBook(before.estate());
        Inverse inverse = new Inverse(book);
        for (String edit : edits(before, new Random(seed), 6))
            book.apply(new Place(Json.read(edit), "", new Defects()), inverse::add);
        for (JsonNode edit : inverse.edits()) {
            Defects defects = new Defects();
            book.apply(new Place(edit, "", defects));
            assertThat(defects.all()).as(edit.toString()).isEmpty();
        }
        assertThat(book.ranking())
                .isEqualTo(before.estate().policies().stream().map(Policy::id).toList());
        for (Policy policy : before.estate().policies()) {
            assertThat(items(book.body(policy.id()), "statements")).isEqualTo(items(policy.source(), "statements"));
            assertThat(items(book.body(policy.id()), "assignments")).isEqualTo(items(policy.source(), "assignments"));
            assertThat(book.body(policy.id()).path("state").asText("live"))
                    .isEqualTo(policy.live() ? "live" : "paused");
            assertThat(book.name(policy.id())).isEqualTo(policy.name());
        }
    }

    private static Set<String> items(JsonNode policy, String list) {
        Set<String> items = new HashSet<>();
        policy.path(list).forEach(item -> items.add(Json.write(item)));
        return items;
    }

    @Test
    void editsOfTheSamePartMeetAndOthersDoNot() {
        String statement =
                "{\"kind\":\"put-statement\",\"policy\":\"p1\",\"statement\":{\"setting\":\"a.b\",\"set\":1}}";
        assertThat(meet(
                        statement,
                        "{\"kind\":\"remove-statement\",\"policy\":\"p1\",\"setting\":\"a.b\",\"says\":\"set\"}"))
                .isTrue();
        assertThat(meet(
                        statement,
                        "{\"kind\":\"remove-statement\",\"policy\":\"p1\",\"setting\":\"a.b\",\"says\":\"cap\"}"))
                .isFalse();
        assertThat(meet(
                        statement,
                        "{\"kind\":\"put-statement\",\"policy\":\"p1\",\"statement\":{\"setting\":\"a.c\",\"set\":1}}"))
                .isFalse();
        assertThat(meet(statement, "{\"kind\":\"remove-policy\",\"policy\":\"p1\"}"))
                .isTrue();
        assertThat(meet(statement, "{\"kind\":\"remove-policy\",\"policy\":\"p\"}"))
                .isFalse();
        assertThat(meet(statement, "{\"kind\":\"replace-estate\"}")).isTrue();
        assertThat(meet(statement, "{\"kind\":\"rank-policy\",\"policy\":\"p1\",\"above\":null}"))
                .isFalse();
        assertThat(meet(
                        "{\"kind\":\"rank-policy\",\"policy\":\"p1\",\"above\":null}",
                        "{\"kind\":\"rank-policy\",\"policy\":\"p1\",\"above\":\"p2\"}"))
                .isTrue();
        assertThat(meet(
                        "{\"kind\":\"put-assignment\",\"policy\":\"p1\",\"assignment\":{\"include\":\"unit:u\"}}",
                        "{\"kind\":\"remove-assignment\",\"policy\":\"p1\",\"assignment\":{\"include\":\"unit:u\"}}"))
                .isTrue();
        assertThat(meet(
                        "{\"kind\":\"amend-policy\",\"policy\":\"p1\",\"members\":{\"name\":\"x\"}}",
                        "{\"kind\":\"amend-policy\",\"policy\":\"p1\",\"members\":{\"state\":\"live\"}}"))
                .isFalse();
    }

    private static boolean meet(String a, String b) {
        return Touch.meet(Json.read(a), Json.read(b)) && Touch.meet(Json.read(b), Json.read(a));
    }
}
