package leanladder.resolve;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.node.ObjectNode;
import java.time.Instant;
import java.util.Random;
import leanladder.RandomEstate;
import leanladder.edit.session.EditSession;
import leanladder.edit.session.RandomEdits;
import leanladder.estate.Account;
import leanladder.json.Defects;
import leanladder.json.Json;
import leanladder.json.JsonCursor;
import leanladder.reach.AccountReach;
import leanladder.seat.Entitlements;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import org.roaringbitmap.RoaringBitmap;

/** What is taken over from one estate to the next is what would have been made anew. */
class StatementIndexTest {
    @ParameterizedTest
    @ValueSource(longs = {1, 2, 4, 5, 6, 7, 8, 9})
    void statementsTakenOverFromAnEstateBeforeAreThoseOfTheEstateAfter(long seed) {
        ObjectNode estate = RandomEstate.json(seed);
        CompiledEstate compiledEstate = new CompiledEstate(RandomEstate.read(estate));
        Random random = new Random(seed);
        EditSession editSession = new EditSession(compiledEstate, RandomEdits.bodies(estate));
        int carriedOut = 0;
        for (int i = 0; i < 60; i++) {
            var policies = editSession.compile().estate().policies();
            if (policies.isEmpty()) break;
            String policy = policies.get(random.nextInt(policies.size())).id();
            String setting = estate.at("/catalogue/settings/"
                            + random.nextInt(estate.at("/catalogue/settings").size()) + "/key")
                    .asText();
            ObjectNode edit = Json.NODES.objectNode();
            switch (random.nextInt(6)) {
                case 0 -> edit.put("kind", "rank-policy").put("policy", policy).putNull("above");
                case 1 -> edit.put("kind", "remove-policy").put("policy", policy);
                case 2 ->
                    edit.put("kind", "amend-policy")
                            .put("policy", policy)
                            .putObject("members")
                            .put("name", "Name " + i);
                case 3, 4 ->
                    edit.put("kind", "put-assignment")
                            .put("policy", policy)
                            .putObject("assignment")
                            .put("include", somebody(estate, random));
                default ->
                    edit.put("kind", "put-statement")
                            .put("policy", policy)
                            .putObject("statement")
                            .put("setting", setting)
                            .put("set", random.nextBoolean());
            }
            if (editSession.apply(new JsonCursor(edit, "", new Defects())).isPresent()) carriedOut++;
            CompiledEstate after = editSession.compile();
            CompiledEstate anew = new CompiledEstate(after.estate());
            for (String key : after.estate().catalogue().settings().keySet())
                assertThat(after.statementsOn(key)).as("%s after %s", key, edit).isEqualTo(anew.statementsOn(key));
            for (Account account : after.estate().accounts())
                assertThat(after.policyTargetIndex(new AccountReach(after.directory(), account)))
                        .as("%s after %s", account.id(), edit)
                        .isEqualTo(anew.policyTargetIndex(new AccountReach(anew.directory(), account)));
        }
        assertThat(carriedOut > 0 || compiledEstate.estate().policies().isEmpty())
                .isTrue();
    }

    /** The target of an account or a unit. */
    private static String somebody(ObjectNode estate, Random random) {
        String list = random.nextBoolean() && !estate.get("accounts").isEmpty() ? "accounts" : "units";
        var all = estate.get(list);
        return list.replaceAll("s$", ":")
                + all.get(random.nextInt(all.size())).get("id").asText();
    }

    @ParameterizedTest
    @ValueSource(longs = {11, 12, 13, 14, 15, 16})
    void whoseValuesDifferBetweenTwoInstantsIsWhomTheClimbsTell(long seed) {
        ObjectNode estate = RandomEstate.json(seed);
        CompiledEstate compiledEstate = new CompiledEstate(RandomEstate.read(estate));
        Instant one = Instant.parse("2026-01-01T00:00:00Z");
        Instant other = Instant.parse("2027-06-01T00:00:00Z");
        RoaringBitmap wanted = new RoaringBitmap();
        Entitlements then = compiledEstate.seats(one);
        Entitlements later = compiledEstate.seats(other);
        for (Account account : compiledEstate.estate().accounts()) {
            if (!account.active()) continue;
            AccountResolver before = new AccountResolver(compiledEstate, EvaluationContext.at(one), then, account);
            AccountResolver after = new AccountResolver(compiledEstate, EvaluationContext.at(other), later, account);
            for (var setting : compiledEstate.estate().catalogue().settings().values())
                if (!before.outcome(setting)
                        .value()
                        .equals(after.outcome(setting).value()))
                    wanted.add(compiledEstate.directory().number(account.id()));
        }
        ColumnResolver before = new ColumnResolver(compiledEstate, EvaluationContext.at(one), then);
        ColumnResolver after = new ColumnResolver(compiledEstate, EvaluationContext.at(other), later);
        assertThat(after.differing(before)).isEqualTo(wanted);
        assertThat(before.differing(after)).isEqualTo(wanted);
    }
}
