package leanladder.edit.session;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.time.Instant;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.Set;
import leanladder.RandomEstate;
import leanladder.catalogue.Need;
import leanladder.catalogue.Setting;
import leanladder.conflict.ConflictIndex;
import leanladder.estate.Account;
import leanladder.estate.Plan;
import leanladder.estate.Policy;
import leanladder.estate.Target;
import leanladder.estate.Workspace;
import leanladder.json.Defects;
import leanladder.json.Json;
import leanladder.json.JsonCursor;
import leanladder.resolve.AccountResolver;
import leanladder.resolve.CompiledEstate;
import leanladder.resolve.EvaluationContext;
import leanladder.resolve.Outcome;
import leanladder.ripple.Ripple;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import org.assertj.core.groups.Tuple;
import org.junit.jupiter.api.Test;

class RippleTest {
    private static final EvaluationContext NOW = EvaluationContext.at(RandomEstate.NOW);

    private static EditSession edited(long seed, CompiledEstate compiledEstate) {
        return edited(seed, compiledEstate, RandomEdits.all(compiledEstate, new Random(seed), 3));
    }

    private static EditSession edited(long seed, CompiledEstate compiledEstate, List<String> edits) {
        EditSession editSession = new EditSession(compiledEstate, RandomEdits.bodies(RandomEstate.json(seed)));
        for (String edit : edits) editSession.apply(new JsonCursor(Json.read(edit), "", new Defects()));
        return editSession;
    }

    @Property(tries = 600)
    void theRippleIsTheDifferenceOfAllOutcomes(@ForAll long seed) {
        CompiledEstate before = new CompiledEstate(RandomEstate.read(RandomEstate.json(seed)));
        assertIsTheDifference(seed, before, edited(seed, before));
    }

    @Property(tries = 600)
    void whoeverSaysAWordOnAPreviewGetsWhatItReleases(@ForAll long seed) {
        CompiledEstate before = new CompiledEstate(RandomEstate.read(RandomEstate.json(seed)));
        assertIsTheDifference(seed, before, edited(seed, before, RandomEdits.ofConsents(before, new Random(seed), 4)));
    }

    static void assertIsTheDifference(long seed, CompiledEstate before, EditSession editSession) {
        CompiledEstate after = editSession.compile();
        Ripple ripple = new Ripple(editSession, after, NOW);
        CompiledEstate fresh = new CompiledEstate(after.estate().withHolders(holders(seed, after)));
        var seatsBefore = before.seats(NOW.at());
        var seatsAfter = fresh.seats(NOW.at());
        Set<Integer> changed = new HashSet<>();
        Set<Integer> elsewhere = new HashSet<>();
        Set<Integer> joining = new HashSet<>();
        Set<Integer> leaving = new HashSet<>();
        int moved = 0;
        Set<String> ids = new HashSet<>();
        before.estate().accounts().stream().filter(Account::active).forEach(a -> ids.add(a.id()));
        after.estate().accounts().stream().filter(Account::active).forEach(a -> ids.add(a.id()));
        for (String id : ids) {
            int number = after.directory().number(id);
            Optional<Account> old = before.estate().account(id).filter(Account::active);
            Optional<Account> now = after.estate().account(id).filter(Account::active);
            if (old.isEmpty()) joining.add(number);
            if (now.isEmpty()) leaving.add(number);
            if (old.isEmpty() || now.isEmpty()) continue;
            for (Setting setting : onBothSides(before, after)) {
                Outcome was = new AccountResolver(before, NOW, seatsBefore, old.get()).outcome(setting);
                Outcome is = new AccountResolver(fresh, NOW, seatsAfter, now.get()).outcome(after(setting, after));
                if (!was.value().equals(is.value())) {
                    changed.add(number);
                    moved++;
                } else if (!was.isDecidedLike(is)) elsewhere.add(number);
            }
        }
        elsewhere.removeAll(changed);
        assertThat(numbers(ripple.changed())).isEqualTo(changed);
        assertThat(ripple.moves().stream()
                        .mapToInt(m -> m.accounts().getCardinality())
                        .sum())
                .isEqualTo(moved);
        assertThat(numbers(ripple.decidedElsewhere())).isEqualTo(elsewhere);
        assertThat(numbers(ripple.joining())).isEqualTo(joining);
        assertThat(numbers(ripple.leaving())).isEqualTo(leaving);
        assertThat(ripple.gainOnly().getCardinality()
                        + ripple.loseOnly().getCardinality()
                        + ripple.both().getCardinality()
                        + ripple.otherOnly().getCardinality())
                .isEqualTo(changed.size());
    }

    @Property(tries = 600)
    void noInstantAfterTheNearestEdgesIsOverlooked(@ForAll long seed) {
        CompiledEstate before = new CompiledEstate(RandomEstate.read(RandomEstate.json(seed)));
        EditSession editSession = edited(seed, before);
        CompiledEstate after = editSession.compile();
        Set<String> changed = pairs(new Ripple(editSession, after, NOW));
        var later = Ripple.later(editSession, after, NOW);
        for (Ripple.Later then : later) {
            Set<String> pairs = pairs(then.ripple());
            pairs.removeAll(changed);
            assertThat(numbers(then.more()))
                    .isEqualTo(pairs.stream()
                            .map(p -> Integer.valueOf(p.split(" ")[0]))
                            .collect(java.util.stream.Collectors.toSet()));
            changed.addAll(pairs);
        }
        // Whatever changes at some edge of the estate at all was found at one of those that the edits touch.
        var edges = new java.util.TreeSet<Instant>();
        after.estate()
                .policies()
                .forEach(p -> p.assignments().forEach(a -> a.window().edges().forEach(edges::add)));
        after.estate().releases().forEach(r -> r.edges().forEach(edges::add));
        for (Instant edge : edges.tailSet(NOW.at(), false).stream().limit(6).toList()) {
            Set<String> then = pairs(new Ripple(editSession, after, EvaluationContext.at(edge)));
            then.removeAll(changed);
            assertThat(then).isEmpty();
        }
    }

    @Test
    void aSeatThatIsGivenNowAndMattersOnlyOnceAPolicyBeginsIsForetold() {
        Instant tomorrow = NOW.at().plusSeconds(86_400);
        CompiledEstate before = new CompiledEstate(
                RandomEstate.read(Json.read("""
                {'format': 'lean-ladder-estate/1', 'organisation': {'name': 'Skerry'},
                 'catalogue': {'apps': [{'id': 'chat', 'name': 'Chat'}], 'entitlements': [{'id': 'assistant', 'name': 'Assistant'}],
                   'settings': [{'key': 'chat.summaries', 'app': 'chat', 'title': 'Summaries', 'type': 'switch',
                     'strict': false, 'default': false, 'needs': [{'entitlement': ['assistant']}], 'fallback': false}]},
                 'units': [{'id': 'u', 'name': 'Skerry'}],
                 'accounts': [{'id': 'a', 'userName': 'a', 'displayName': 'A', 'kind': 'person', 'unit': 'u'}],
                 'plans': [{'id': 'desk', 'name': 'Desk plan', 'seats': 1, 'components': ['assistant'], 'rules': []}],
                 'policies': [{'id': 'p', 'name': 'Summaries from tomorrow',
                   'statements': [{'setting': 'chat.summaries', 'set': true}],
                   'assignments': [{'include': 'organisation', 'from': '%s'}]}]}
                """.formatted(tomorrow).replace('\'', '"'))));
        EditSession editSession = new EditSession(before, (section, key) -> Json.NODES.objectNode());
        String edit = "{\"kind\":\"put-rule\",\"plan\":\"desk\",\"rule\":{\"include\":\"account:a\"}}";
        assertThat(editSession.apply(new JsonCursor(Json.read(edit), "", new Defects())))
                .isPresent();
        assertThat(Ripple.later(editSession, editSession.compile(), NOW))
                .extracting(Ripple.Later::at, later -> numbers(later.more()))
                .containsExactly(Tuple.tuple(tomorrow, Set.of(0)));
    }

    @Property(tries = 200)
    void everyWorkspaceThatAnEditedPolicyNamesOrNamedIsAnsweredFor(@ForAll long seed) {
        CompiledEstate before = new CompiledEstate(RandomEstate.read(RandomEstate.json(seed)));
        EditSession editSession = edited(seed, before);
        CompiledEstate after = editSession.compile();
        Set<Target> places = new HashSet<>();
        for (CompiledEstate side : List.of(before, after))
            for (var policy : side.estate().policies())
                if (editSession.writeSet().policies().contains(policy.id()))
                    policy.assignments().forEach(a -> a.place().ifPresent(places::add));
        for (String setting : editSession.writeSet().catalogue())
            for (var rankedStatement : after.statementsOn(setting))
                rankedStatement.policy().assignments().forEach(a -> a.place().ifPresent(places::add));
        editSession.writeSet().workspaces().forEach(id -> places.add(new Target.WorkspaceTarget(id)));
        editSession.writeSet().hostings().forEach(id -> places.add(new Target.HostingTarget(id)));
        Set<String> named = new HashSet<>();
        for (var workspace : after.estate().workspaces()) {
            if (before.estate().workspace(workspace.id()).isEmpty()) continue;
            boolean concerned = places.contains(new Target.WorkspaceTarget(workspace.id()));
            for (CompiledEstate side : List.of(before, after))
                concerned |= side.estate()
                        .workspace(workspace.id())
                        .flatMap(Workspace::hosting)
                        .filter(hosting -> places.contains(new Target.HostingTarget(hosting)))
                        .isPresent();
            if (concerned) named.add(workspace.id());
        }
        Set<String> answered = Ripple.inWorkspaces(editSession, after, NOW.at()).keySet();
        assertThat(answered).containsAll(named);
        // Beside these only where a group that a workspace lists holds others than before.
        boolean asksForRoles = List.of(before, after).stream()
                .anyMatch(side -> !side.estate()
                        .catalogue()
                        .asking(Need.WorkspaceRole.class)
                        .isEmpty());
        if (!asksForRoles) assertThat(answered).isEqualTo(named);
    }

    @Property(tries = 200)
    void inAWorkspaceTheRippleIsTheDifferenceForItsMembersAsIfWorkingThere(@ForAll long seed) {
        CompiledEstate before = new CompiledEstate(RandomEstate.read(RandomEstate.json(seed)));
        EditSession editSession = edited(seed, before);
        CompiledEstate after = editSession.compile();
        CompiledEstate fresh = new CompiledEstate(after.estate().withHolders(holders(seed, after)));
        Ripple.inWorkspaces(editSession, after, NOW.at()).forEach((id, ripple) -> {
            EvaluationContext there = new EvaluationContext(NOW.at(), Optional.of(id));
            var workspace = after.estate().workspace(id).orElseThrow();
            Set<String> members = new HashSet<>(workspace.members().accounts());
            workspace
                    .members()
                    .groups()
                    .forEach(g -> fresh.directory()
                            .members(g)
                            .forEach((int n) ->
                                    members.add(fresh.directory().account(n).id())));
            var seatsBefore = before.seats(NOW.at());
            var seatsAfter = fresh.seats(NOW.at());
            Set<String> expected = new HashSet<>();
            for (String member : members) {
                Optional<Account> old = before.estate().account(member).filter(Account::active);
                Optional<Account> now = after.estate().account(member).filter(Account::active);
                if (old.isEmpty() || now.isEmpty()) continue;
                for (Setting setting : onBothSides(before, after)) {
                    Outcome was = new AccountResolver(before, there, seatsBefore, old.get()).outcome(setting);
                    Outcome is =
                            new AccountResolver(fresh, there, seatsAfter, now.get()).outcome(after(setting, after));
                    if (!was.value().equals(is.value()))
                        expected.add(after.directory().number(member) + " " + setting.key());
                }
            }
            assertThat(pairs(ripple)).isEqualTo(expected);
        });
    }

    /** The settings before the edits that are there after them. */
    private static List<Setting> onBothSides(CompiledEstate before, CompiledEstate after) {
        return before.estate().catalogue().settings().values().stream()
                .filter(s -> after.estate().catalogue().setting(s.key()).isPresent())
                .toList();
    }

    /** The setting as the edits left it. */
    private static Setting after(Setting setting, CompiledEstate after) {
        return after.estate().catalogue().setting(setting.key()).orElseThrow();
    }

    /** Who holds seats by the file, as far as accounts and plans are still there. */
    private static Map<String, List<Plan.Holder>> holders(long seed, CompiledEstate after) {
        Map<String, List<Plan.Holder>> holders = new HashMap<>();
        RandomEstate.read(RandomEstate.json(seed))
                .holders()
                .forEach((plan, listed) -> holders.put(
                        plan,
                        listed.stream()
                                .filter(h -> after.estate().account(h.account()).isPresent())
                                .toList()));
        return holders;
    }

    @Property(tries = 300)
    void seatsPassOnAsIfEverythingWereAllocatedAnew(@ForAll long seed) {
        CompiledEstate before = new CompiledEstate(RandomEstate.read(RandomEstate.json(seed)));
        EditSession editSession = edited(seed, before);
        CompiledEstate after = editSession.compile();
        Ripple ripple = new Ripple(editSession, after, NOW);
        var was = before.seats(NOW.at());
        var is = after.seats(NOW.at());
        for (var old : was.allocations()) {
            var found = is.allocation(old.plan().id());
            if (found.isEmpty()) continue;
            var fresh = found.get();
            Set<Integer> given = numbers(fresh.seated());
            given.removeAll(numbers(old.seated()));
            Set<Integer> returned = numbers(old.seated());
            returned.removeAll(numbers(fresh.seated()));
            var told = ripple.seats().stream()
                    .filter(s -> s.plan().id().equals(old.plan().id()))
                    .findFirst();
            assertThat(told.map(s -> numbers(s.given())).orElse(Set.of())).isEqualTo(given);
            assertThat(told.map(s -> numbers(s.returned())).orElse(Set.of())).isEqualTo(returned);
            if (told.isPresent()) {
                assertThat(told.get().waitingBefore()).isEqualTo(old.waiting().size());
                assertThat(told.get().waitingAfter()).isEqualTo(fresh.waiting().size());
            } else assertThat(old.waiting()).hasSize(fresh.waiting().size());
        }
    }

    @Property(tries = 300)
    void whatStaysBlockedIsDecidedByTheEditsAndStoppedByAGate(@ForAll long seed) {
        CompiledEstate before = new CompiledEstate(RandomEstate.read(RandomEstate.json(seed)));
        EditSession editSession = edited(seed, before);
        CompiledEstate after = editSession.compile();
        Ripple ripple = new Ripple(editSession, after, NOW);
        var seatsBefore = before.seats(NOW.at());
        var seatsAfter = after.seats(NOW.at());
        Set<String> expected = new HashSet<>();
        for (Account now : after.estate().accounts()) {
            Optional<Account> old = before.estate().account(now.id()).filter(Account::active);
            if (!now.active() || old.isEmpty()) continue;
            for (Setting setting : onBothSides(before, after)) {
                Outcome was = new AccountResolver(before, NOW, seatsBefore, old.get()).outcome(setting);
                Outcome is = new AccountResolver(after, NOW, seatsAfter, now).outcome(after(setting, after));
                boolean decidedAnew =
                        !was.decided().equals(is.decided()) || !was.policy().equals(is.policy());
                if (!is.blockedBy().isEmpty() && decidedAnew)
                    expected.add(after.directory().number(now.id()) + " " + setting.key());
            }
        }
        Set<String> told = new HashSet<>();
        for (Ripple.Block block : ripple.blocks())
            block.accounts()
                    .forEach((int n) -> told.add(n + " " + block.setting().key()));
        assertThat(told).isEqualTo(expected);
    }

    @Property(tries = 200)
    void anEditedDirectoryHoldsWhatAFreshOneHolds(@ForAll long seed) {
        CompiledEstate before = new CompiledEstate(RandomEstate.read(RandomEstate.json(seed)));
        if (seed % 2 == 0) before.directory().byStart();
        var after = edited(seed, before).compile();
        var patched = after.directory();
        var fresh = new leanladder.reach.Directory(after.estate());
        for (var unit : after.estate().units())
            assertThat(ids(patched, patched.inOrBelow(unit.id()))).isEqualTo(ids(fresh, fresh.inOrBelow(unit.id())));
        for (var group : after.estate().groups()) {
            assertThat(ids(patched, patched.members(group.id()))).isEqualTo(ids(fresh, fresh.members(group.id())));
            assertThat(patched.groupsAround(group.id())).isEqualTo(fresh.groupsAround(group.id()));
        }
        for (Account account : after.estate().accounts())
            assertThat(new HashSet<>(patched.groupsOf(account.id())))
                    .isEqualTo(new HashSet<>(fresh.groupsOf(account.id())));
        assertThat(ids(patched, patched.active())).isEqualTo(ids(fresh, fresh.active()));
        assertThat(inOrder(patched, after.estate())).isEqualTo(inOrder(fresh, after.estate()));
    }

    private static Set<String> ids(leanladder.reach.Directory directory, org.roaringbitmap.RoaringBitmap set) {
        Set<String> ids = new HashSet<>();
        set.forEach((int n) -> ids.add(directory.account(n).id()));
        return ids;
    }

    private static List<String> inOrder(leanladder.reach.Directory directory, leanladder.estate.Estate estate) {
        return java.util.Arrays.stream(directory.byStart())
                .mapToObj(n -> directory.account(n).id())
                .filter(id -> estate.account(id).isPresent())
                .toList();
    }

    @Property(tries = 200)
    void thePlaceInLineIsThePlaceAmongThoseWhoWait(@ForAll long seed) {
        CompiledEstate compiledEstate = edited(seed, new CompiledEstate(RandomEstate.read(RandomEstate.json(seed))))
                .compile();
        for (var allocation : compiledEstate.seats(NOW.at()).allocations()) {
            List<String> waiting = allocation.waiting();
            for (int i = 0; i < waiting.size(); i++)
                assertThat(allocation.placeInLine(compiledEstate.directory().number(waiting.get(i))))
                        .isEqualTo(i + 1);
            for (String component : allocation.plan().components())
                compiledEstate
                        .directory()
                        .active()
                        .forEach((int n) -> assertThat(allocation.carries(component, n))
                                .isEqualTo(allocation.carrying(component).contains(n)));
        }
    }

    /** Who changes in which setting. */
    private static Set<String> pairs(Ripple ripple) {
        Set<String> pairs = new HashSet<>();
        for (Ripple.ValueChange valueChange : ripple.moves())
            valueChange
                    .accounts()
                    .forEach(
                            (int n) -> pairs.add(n + " " + valueChange.setting().key()));
        return pairs;
    }

    private static Set<Integer> numbers(org.roaringbitmap.RoaringBitmap set) {
        Set<Integer> numbers = new HashSet<>();
        set.forEach((int n) -> numbers.add(n));
        return numbers;
    }

    @Property(tries = 300)
    void aChangeAndItsInverseLeaveEverythingAsItWas(@ForAll long seed) {
        CompiledEstate before = new CompiledEstate(RandomEstate.read(RandomEstate.json(seed)));
        EditSession editSession = new EditSession(before, RandomEdits.bodies(RandomEstate.json(seed)));
        InverseBuilder inverseBuilder = new InverseBuilder(editSession);
        for (String edit : RandomEdits.all(before, new Random(seed), 6))
            inverseBuilder.apply(new JsonCursor(Json.read(edit), "", new Defects()));
        for (JsonNode edit : inverseBuilder.edits()) {
            Defects defects = new Defects();
            editSession.apply(new JsonCursor(edit, "", defects));
            assertThat(defects.all()).as(edit.toString()).isEmpty();
        }
        assertThat(editSession.overlay().ranking())
                .isEqualTo(before.estate().policies().stream().map(Policy::id).toList());
        for (Policy policy : before.estate().policies()) {
            ObjectNode body = editSession.overlay().policy(policy.id()).body();
            assertThat(items(body, "statements")).isEqualTo(items(policy.source(), "statements"));
            assertThat(items(body, "assignments")).isEqualTo(items(policy.source(), "assignments"));
            assertThat(body.path("state").asText("live")).isEqualTo(policy.live() ? "live" : "paused");
            assertThat(editSession.overlay().policyName(policy.id())).isEqualTo(policy.name());
        }
        var after = editSession.compile().estate();
        assertThat(after.units()).isEqualTo(before.estate().units());
        assertThat(after.accounts()).isEqualTo(before.estate().accounts());
        assertThat(after.groups().stream().map(RippleTest::unordered).toList())
                .isEqualTo(before.estate().groups().stream()
                        .map(RippleTest::unordered)
                        .toList());
        assertThat(new Ripple(editSession, editSession.compile(), NOW).changed().isEmpty())
                .isTrue();
    }

    @Property(tries = 200)
    void whatIsWrittenReadsAsTheEstateThatTheEditsMade(@ForAll long seed) {
        ObjectNode file = RandomEstate.json(seed);
        EditSession editSession = edited(seed, new CompiledEstate(RandomEstate.read(file)));
        var read = RandomEstate.read(ExportedEstate.of(file, editSession));
        var after = editSession.compile().estate();
        assertThat(after.units()).isEqualTo(read.units());
        assertThat(after.accounts()).isEqualTo(read.accounts());
        assertThat(after.workspaces()).isEqualTo(read.workspaces());
        assertThat(RandomEdits.read(after.plans())).isEqualTo(RandomEdits.read(read.plans()));
        assertThat(open(after)).isEqualTo(open(read));
        assertThat(decided(after)).isEqualTo(decided(read));
        assertThat(after.groups().stream().map(RippleTest::unordered).toList())
                .isEqualTo(read.groups().stream().map(RippleTest::unordered).toList());
        assertThat(after.policies().stream().map(Policy::id).toList())
                .isEqualTo(read.policies().stream().map(Policy::id).toList());
    }

    /** What releases decide. */
    private static Set<Object> decided(leanladder.estate.Estate estate) {
        Set<Object> decided = new HashSet<>();
        estate.releases()
                .forEach(r -> decided.add(List.of(r.setting(), r.opens(), Set.copyOf(r.early()), r.oneByOne())));
        return decided;
    }

    private static List<String> open(leanladder.estate.Estate estate) {
        return estate.catalogue().settings().values().stream()
                .filter(Setting::openToWorkspaces)
                .map(Setting::key)
                .toList();
    }

    static List<Object> unordered(leanladder.estate.Group group) {
        return List.of(
                group.id(),
                group.name(),
                group.access(),
                group.owners(),
                Set.copyOf(group.members().accounts()),
                Set.copyOf(group.members().groups()));
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

    @Test
    void twoWhoPutTheSameInDoNotGetIntoEachOthersWay() {
        String member = "{\"kind\":\"put-members\",\"group\":\"g\",\"who\":[\"account:a\"]}";
        String aimed = "{\"kind\":\"put-assignment\",\"policy\":\"p\",\"assignment\":{\"include\":\"account:a\"}}";
        String said = "{\"kind\":\"put-statement\",\"policy\":\"p\",\"statement\":{\"setting\":\"s\",\"set\":true}}";
        for (String put : List.of(member, aimed)) {
            String removed = put.replace("put-", "remove-");
            assertThat(meet(put, put)).isFalse();
            assertThat(meet(put, removed)).isTrue();
            assertThat(meet(removed, removed)).isTrue();
        }
        assertThat(meet(aimed, aimed.replace("\"}}", "\",\"until\":\"2026-12-01T00:00:00Z\"}}")))
                .isTrue();
        assertThat(meet(said, said)).isTrue();
    }

    private static boolean meet(String a, String b) {
        return ConflictIndex.isConflict(Json.read(a), Json.read(b))
                && ConflictIndex.isConflict(Json.read(b), Json.read(a));
    }
}
