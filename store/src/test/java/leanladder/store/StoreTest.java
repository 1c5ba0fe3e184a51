package leanladder.store;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.awaitility.Awaitility.await;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.function.Supplier;
import leanladder.RandomEstate;
import leanladder.estate.Account;
import leanladder.estate.Estate;
import leanladder.estate.read.EstateReader;
import leanladder.estate.read.Section;
import leanladder.json.Json;
import leanladder.resolve.CompiledEstate;
import leanladder.ripple.Ripple;
import leanladder.store.db.Database;
import leanladder.store.db.DatabaseUnavailableException;
import leanladder.store.db.DuplicateRequestException;
import leanladder.store.db.WriteRequest;
import leanladder.store.drafts.Draft;
import leanladder.store.drafts.DraftLine;
import leanladder.store.drafts.StaleDraftException;
import leanladder.store.entities.EntityTable;
import leanladder.store.entities.StoredEntity;
import leanladder.store.journal.Change;
import leanladder.store.journal.NewChange;
import leanladder.store.journal.StaleBaseException;
import leanladder.store.seats.MovedSeat;
import leanladder.workingcopy.EntityStore;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

class StoreTest {
    private Store store;

    @BeforeEach
    void open() {
        store = ThrowAwayPostgres.get().newStore("store_test");
    }

    @AfterEach
    void close() {
        store.close();
    }

    static WriteRequest writeRequest() {
        return WriteRequest.by("Ivo Tarn", Instant.parse("2026-11-23T12:00:00Z"));
    }

    static NewChange entry(String note) {
        return new NewChange(
                Instant.parse("2026-11-23T12:00:00Z"),
                "Ivo Tarn",
                false,
                note,
                Json.NODES.arrayNode(),
                Json.NODES.arrayNode().add("edits in words"),
                Json.NODES.objectNode().put("accounts", 3),
                Optional.empty(),
                Optional.empty());
    }

    /** The ledger as the file lists it, nobody seated beside. */
    static Supplier<EntityTable.Seats> seats(JsonNode estate) {
        Estate read = RandomEstate.read(estate);
        return () -> SeatRows.loaded(read, new CompiledEstate(read));
    }

    /** The parts that hold an estate file. */
    static List<StoredEntity> parts(JsonNode estate) throws Exception {
        List<StoredEntity> parts = new ArrayList<>();
        var read = EstateReader.read(
                new ByteArrayInputStream(Json.write(estate).getBytes(StandardCharsets.UTF_8)),
                p -> parts.add(StoredEntity.from(p)));
        parts.addAll(StoredEntity.frame(read.frame()));
        return parts;
    }

    static JsonNode export(Store store) throws IOException {
        var out = new ByteArrayOutputStream();
        store.parts().export(out);
        return Json.read(out.toString(StandardCharsets.UTF_8));
    }

    /** The same estate with every list that has no order of its own sorted by its key. */
    static JsonNode sorted(JsonNode estate) {
        ObjectNode copy = estate.deepCopy();
        for (String list : List.of("units", "accounts", "groups", "workspaces", "policies", "plans"))
            sort(copy, list, "id");
        // Who holds a seat has no order either; nobody is nobody, written or not.
        copy.path("plans").forEach(plan -> {
            sort((ObjectNode) plan, "holders", "account");
            if (plan.path("holders").isEmpty()) ((ObjectNode) plan).remove("holders");
        });
        sort(copy, "releases", "setting");
        sort((ObjectNode) copy.get("catalogue"), "settings", "key");
        return Json.read(Json.write(copy));
    }

    private static void sort(ObjectNode of, String list, String key) {
        if (!of.path(list).isArray()) return;
        List<JsonNode> items = new ArrayList<>();
        of.get(list).forEach(items::add);
        items.sort(java.util.Comparator.comparing(i -> i.get(key).asText(), leanladder.json.CodePointOrder.TEXTS));
        ArrayNode array = Json.NODES.arrayNode();
        items.forEach(array::add);
        of.set(list, array);
    }

    @Test
    void whatIsReadBackEqualsWhatWasPut() throws Exception {
        long last = 0;
        for (long seed = 0; seed < 40; seed++) {
            ObjectNode estate = RandomEstate.json(seed);
            estate.put("remark", "kept \u0000 as it is")
                    .set("precise", Json.read("[1.50, 12345678901234567890123, 1e3]"));
            ((ObjectNode) estate.get("units").get(0)).putObject("extra").put("colour", "grey");
            last = store.parts()
                    .replace(writeRequest(), last, entry("put"), parts(estate).stream(), seats(estate))
                    .number();
            assertThat(sorted(export(store))).isEqualTo(sorted(estate));
        }
        assertThat(store.journal().latest()).isEqualTo(40);
    }

    @Test
    void sectionsLeftOutStayLeftOut() throws Exception {
        JsonNode least = Json.read(
                "{\"format\":\"lean-ladder-estate/1\",\"organisation\":{\"name\":\"S\"},\"units\":[{\"id\":\"u\",\"name\":\"S\"}],"
                        + "\"accounts\":[],\"catalogue\":{\"settings\":[]}}");
        store.parts().replace(writeRequest(), 0, entry("put"), parts(least).stream(), seats(least));
        assertThat(export(store)).isEqualTo(least);
        StoredEntity policy = new StoredEntity("policies", "p\u0000\\1", "{\"id\":\"p\\u0000\\\\1\",\"name\":\"Odd\"}");
        store.parts().publish(writeRequest(), 1, entry("one policy"), List.of(policy), List.of(), List.of());
        assertThat(export(store).at("/policies/0/name").asText()).isEqualTo("Odd");
        store.parts().publish(writeRequest(), 2, entry("gone"), List.of(), List.of(policy), List.of());
        assertThat(export(store)).isEqualTo(least);
    }

    @Test
    void whatIsExpectedIsReadAheadAndIsWhatWasStored() throws Exception {
        ObjectNode estate = RandomEstate.json(7);
        store.parts().replace(writeRequest(), 0, entry("put"), parts(estate).stream(), seats(estate));
        List<String> ids = new ArrayList<>();
        estate.get("accounts").forEach(a -> ids.add(a.get("id").asText()));
        EntityStore stored = store.parts().asOf(1);
        stored.expect(Section.ACCOUNTS, ids);
        for (int i = 0; i < ids.size(); i++)
            assertThat(stored.body(Section.ACCOUNTS, ids.get(i))).isEqualTo(estate.at("/accounts/" + i));
        assertThat(stored.bodies(Section.ACCOUNTS, ids)).hasSize(ids.size());
        assertThatThrownBy(() -> stored.body(Section.ACCOUNTS, "nobody")).hasMessageContaining("lacks");
    }

    @Test
    void anEstateThatIsCutOffWhileItIsReadIsNotTakenForAnotherOne() throws Exception {
        ObjectNode estate = RandomEstate.json(7);
        store.parts().replace(writeRequest(), 0, entry("put"), parts(estate).stream(), seats(estate));
        ThrowAwayPostgres postgres = ThrowAwayPostgres.get();
        String url = postgres.connectionTo("store_test");
        List<Account> whole = store.parts().read(1).estate().accounts();
        int cut = 0;
        try (FaultProxy proxy = new FaultProxy(FaultProxy.port(url));
                Store behind = new Store(proxy.through(url), postgres.user(), postgres.password())) {
            for (int n = 1; n <= 40; n++) {
                proxy.cutAfter(n);
                try {
                    assertThat(behind.parts().read(1).estate().accounts()).containsExactlyInAnyOrderElementsOf(whole);
                } catch (RuntimeException away) {
                    assertThat(Database.isAway(away) || away instanceof DatabaseUnavailableException)
                            .as("cut after message %d: %s", n, away)
                            .isTrue();
                    cut++;
                } finally {
                    proxy.mend();
                }
                await().atMost(Duration.ofSeconds(15))
                        .ignoreExceptions()
                        .until(() -> behind.journal().latest() == 1);
            }
        }
        assertThat(cut).as("readings that were cut off").isPositive();
    }

    @Test
    void aChangeOnAnOldBaseStoresNothing() throws Exception {
        ObjectNode estate = RandomEstate.json(7);
        store.parts().replace(writeRequest(), 0, entry("put"), parts(estate).stream(), seats(estate));
        JsonNode before = export(store);
        StoredEntity policy = new StoredEntity("policies", "late", "{\"id\":\"late\",\"name\":\"Late\"}");
        assertThatThrownBy(() ->
                        store.parts().publish(writeRequest(), 0, entry("late"), List.of(policy), List.of(), List.of()))
                .isInstanceOf(StaleBaseException.class);
        assertThat(export(store)).isEqualTo(before);
        assertThat(store.journal().since(0))
                .extracting(Change::number, Change::author, Change::note)
                .containsExactly(org.assertj.core.api.Assertions.tuple(1L, "Ivo Tarn", "put"));
    }

    @Test
    void everyPastEstateIsReadBackAsItStood() throws Exception {
        List<JsonNode> stood = new ArrayList<>();
        for (long seed = 30; seed < 45; seed++) {
            ObjectNode estate = RandomEstate.json(seed);
            store.parts().replace(writeRequest(), seed - 30, entry("put"), parts(estate).stream(), seats(estate));
            stood.add(sorted(export(store)));
        }
        StoredEntity policy = new StoredEntity("policies", "late", "{\"id\":\"late\",\"name\":\"Late\"}");
        store.parts().publish(writeRequest(), 15, entry("one more"), List.of(policy), List.of(), List.of());
        for (int number = 1; number <= 15; number++) {
            var out = new ByteArrayOutputStream();
            assertThat(store.parts().export(out, number)).isEqualTo(number);
            assertThat(sorted(Json.read(out.toString(StandardCharsets.UTF_8)))).isEqualTo(stood.get(number - 1));
        }
    }

    @Test
    void theJournalIsReadBackwardsAndByInstant() throws Exception {
        assertThat(store.journal().numberAt(Instant.parse("2026-11-23T12:00:00Z")))
                .isZero();
        for (int i = 0; i < 5; i++)
            store.parts()
                    .replace(
                            writeRequest(),
                            i,
                            entry("note " + i),
                            parts(RandomEstate.json(i)).stream(),
                            seats(RandomEstate.json(i)));
        assertThat(store.journal().before(Long.MAX_VALUE, 2))
                .extracting(Change::number)
                .containsExactly(5L, 4L);
        assertThat(store.journal().before(4, 9)).extracting(Change::number).containsExactly(3L, 2L, 1L);
        assertThat(store.journal().before(2, 1).get(0).words().get(0).asText()).isEqualTo("edits in words");
        assertThat(store.journal().before(2, 1).get(0).ripple().get("accounts").asInt())
                .isEqualTo(3);
        assertThat(store.journal().numberAt(Instant.parse("2026-11-23T12:00:00Z")))
                .isEqualTo(5);
        assertThat(store.journal().numberAt(Instant.parse("2026-11-23T11:59:59Z")))
                .isZero();
    }

    @Test
    void partsThatStayTheSameAreLeftAlone() throws Exception {
        ObjectNode estate = RandomEstate.json(11);
        store.parts().replace(writeRequest(), 0, entry("put"), parts(estate).stream(), seats(estate));
        store.parts().replace(writeRequest(), 1, entry("put again"), parts(estate).stream(), seats(estate));
        ((ObjectNode) estate.get("units").get(0)).put("name", "Renamed");
        store.parts().replace(writeRequest(), 2, entry("one renamed"), parts(estate).stream(), seats(estate));
        assertThat(
                        rows(
                                "select section || ' ' || since || ' ' || coalesce(until, 0) from part where since > 1 or until is not null"))
                .containsExactlyInAnyOrder("units 1 3", "units 3 0");
    }

    @Test
    void whatWasLoadedIsKnownToWhateverPlansTheNextQuestion() throws Exception {
        ObjectNode estate = RandomEstate.json(12);
        store.parts().replace(writeRequest(), 0, entry("put"), parts(estate).stream(), seats(estate));
        assertThat(rows("select reltuples::bigint from pg_class where relname = 'part'"))
                .containsExactly(rows("select count(*) from part").get(0));
    }

    /** The first column of what the database says. */
    private static List<String> rows(String question) throws Exception {
        ThrowAwayPostgres cluster = ThrowAwayPostgres.get();
        try (var db = java.sql.DriverManager.getConnection(
                        cluster.connectionTo("store_test"), cluster.user(), cluster.password());
                var found = db.createStatement().executeQuery(question)) {
            List<String> rows = new ArrayList<>();
            while (found.next()) rows.add(found.getString(1));
            return rows;
        }
    }

    @Test
    void theJournalAloneBuildsTheSameEstateInAnEmptyDatabase() throws Exception {
        for (long seed = 700; seed < 704; seed++) {
            close();
            open();
            load(RandomEstate.json(seed), "first", RandomEstate.NOW.minusSeconds(7200));
            edit(seed, 6, RandomEstate.NOW.minusSeconds(7200));
            load(RandomEstate.json(seed + 1), "second", RandomEstate.NOW);
            edit(seed + 1, 6, RandomEstate.NOW);
            assertThat(store.journal().since(0).stream().filter(c -> c.isAutomatic()))
                    .allMatch(c -> !store.seats().movedBy(c.number()).isEmpty());
            try (Store anew = ThrowAwayPostgres.get().newStore("store_replayed")) {
                assertThat(Replay.all(store, anew)).isEqualTo(store.journal().latest());
                assertThat(export(anew)).isEqualTo(export(store));
                assertThat(anew.journal().since(0)).isEqualTo(store.journal().since(0));
                for (long number = 1; number <= store.journal().latest(); number++) {
                    assertThat(exportAsOf(anew, number)).isEqualTo(exportAsOf(store, number));
                    assertThat(anew.seats().movedBy(number))
                            .isEqualTo(store.seats().movedBy(number));
                }
            }
        }
    }

    /** Puts a file in place of the estate and gives out the seats that are free, as a server does. */
    private void load(JsonNode file, String note, Instant at) throws Exception {
        Estate read = RandomEstate.read(file);
        store.parts()
                .replace(
                        writeRequest(),
                        store.journal().latest(),
                        at(replacement(note), at),
                        parts(file).stream(),
                        () -> SeatRows.loaded(read, new CompiledEstate(read).withSeatsGiven(at)));
    }

    private static NewChange at(NewChange newChange, Instant at) {
        return new NewChange(
                at,
                newChange.author(),
                newChange.proven(),
                newChange.note(),
                newChange.edits(),
                newChange.words(),
                newChange.ripple(),
                newChange.planned(),
                newChange.draft());
    }

    private static JsonNode exportAsOf(Store store, long number) throws IOException {
        var out = new ByteArrayOutputStream();
        store.parts().export(out, number);
        return Json.read(out.toString(StandardCharsets.UTF_8));
    }

    private static NewChange replacement(String note) {
        NewChange newChange = entry(note);
        ArrayNode edits = Json.NODES.arrayNode();
        edits.addObject().put("kind", "replace-estate");
        return new NewChange(
                newChange.at(),
                newChange.author(),
                false,
                note,
                edits,
                newChange.words(),
                newChange.ripple(),
                Optional.empty(),
                Optional.empty());
    }

    /** Publishes changes of one edit each, such as fit, a quarter of an hour apart, and what the clock does between them. */
    private void edit(long seed, int most, Instant start) throws Exception {
        var random = new java.util.Random(seed);
        Instant last = start;
        for (int i = 0; i < most; i++) {
            JsonNode estate = export(store);
            var read = new CompiledEstate(RandomEstate.read(estate));
            Instant at = last.plusSeconds(900);
            CompiledEstate then = read.withLedger(read.seatLedger().asOf(last));
            CompiledEstate compiledEstate =
                    then.withLedger(then.seatLedger().advanceTo(then.estate().plans(), then.directory(), at));
            List<MovedSeat> passed = SeatRows.moved(then, compiledEstate, at, true);
            if (!passed.isEmpty())
                store.parts()
                        .publish(
                                writeRequest(),
                                store.journal().latest(),
                                at(entry("time passed"), at),
                                List.of(),
                                List.of(),
                                passed);
            last = at;
            var editSession = new leanladder.edit.session.EditSession(
                    compiledEstate, store.parts().asOf(store.journal().latest()));
            JsonNode account = estate.at("/accounts/"
                    + random.nextInt(Math.max(1, estate.get("accounts").size())));
            String id = account.path("id").asText("none").replace("\\", "\\\\").replace("\"", "\\\"");
            String[] forms = {
                "{\"kind\":\"add-policy\",\"policy\":{\"name\":\"New\",\"assignments\":[{\"include\":\"organisation\"}]}}",
                "{\"kind\":\"add-group\",\"group\":{\"name\":\"New\",\"purpose\":\"access\",\"members\":[]}}",
                "{\"kind\":\"amend-account\",\"account\":\"" + id + "\",\"members\":{\"active\":false}}",
                "{\"kind\":\"put-members\",\"group\":\"new\",\"who\":[\"account:" + id + "\"]}",
                "{\"kind\":\"rank-policy\",\"policy\":\"new\",\"above\":null}",
                "{\"kind\":\"remove-policy\",\"policy\":\"new\"}",
                "{\"kind\":\"buy-seats\",\"plan\":\"l0\",\"purchase\":{\"seats\":2,\"from\":\"" + at.plusSeconds(1200)
                        + "\"}}",
                "{\"kind\":\"give-seats\",\"plan\":\"l0\",\"accounts\":[\"" + id + "\"]}",
                "{\"kind\":\"remove-plan\",\"plan\":\"l1\"}"
            };
            JsonNode edit = Json.read(forms[random.nextInt(forms.length)]);
            if (editSession
                    .apply(new leanladder.json.JsonCursor(edit, "", new leanladder.json.Defects()))
                    .isEmpty()) continue;
            // The journal keeps what was given an id with its id, as the server does.
            ObjectNode journalled = edit.deepCopy();
            for (String noun : List.of("policy", "group"))
                if (journalled.path("kind").asText().equals("add-" + noun))
                    journalled.set(noun, editSession.written().get(0).body());
            CompiledEstate edited = editSession.compile();
            CompiledEstate after = edited.withLedger(
                    Ripple.seatsPassedOn(editSession, edited, at).ledger());
            NewChange newChange = entry("edit " + i);
            store.parts()
                    .publish(
                            writeRequest(),
                            store.journal().latest(),
                            new NewChange(
                                    at,
                                    "Ines Brandal",
                                    false,
                                    newChange.note(),
                                    Json.NODES.arrayNode().add(journalled),
                                    newChange.words(),
                                    newChange.ripple(),
                                    Optional.empty(),
                                    Optional.empty()),
                            EntityTable.EntityWrites.of(editSession),
                            SeatRows.moved(compiledEstate, after, at, false));
        }
    }

    private static Draft.Item item(String kind) {
        return new Draft.Item(1, Json.NODES.objectNode().put("kind", kind));
    }

    private Draft draft(long id) {
        return store.drafts().find(id).orElseThrow();
    }

    private static List<String> kinds(List<Draft.Step> steps) {
        return steps.stream()
                .flatMap(s -> s.items().stream())
                .map(i -> i.edit().get("kind").asText())
                .toList();
    }

    @Test
    void aDraftIsKeptUnderItsVersionAndGoesWithTheChangeThatPublishesIt() throws Exception {
        store.parts()
                .replace(
                        writeRequest(),
                        0,
                        replacement("first"),
                        parts(RandomEstate.json(3)).stream(),
                        seats(RandomEstate.json(3)));
        long id = store.drafts().begin(writeRequest(), "Pilot");
        Draft draft = draft(id);
        assertThat(store.drafts().lines(10)).extracting(DraftLine::id).containsExactly(id);
        store.drafts().stage(writeRequest(), draft, List.of(item("one")));
        assertThat(draft(id).version()).isEqualTo(draft.version() + 1);
        assertThatThrownBy(() -> store.drafts().stage(writeRequest(), draft, List.of(item("late"))))
                .isInstanceOf(StaleDraftException.class);
        assertThatThrownBy(() -> store.drafts().discard(writeRequest(), draft)).isInstanceOf(StaleDraftException.class);
        assertThat(kinds(draft(id).steps())).containsExactly("one");
        NewChange newChange = entry("published");
        store.parts()
                .publish(
                        writeRequest(),
                        1,
                        new NewChange(
                                newChange.at(),
                                newChange.author(),
                                false,
                                "published",
                                newChange.edits(),
                                newChange.words(),
                                newChange.ripple(),
                                Optional.of(Instant.parse("2026-11-23T11:00:00Z")),
                                Optional.of(id)),
                        List.of(),
                        List.of(),
                        List.of());
        assertThat(store.drafts().lines(10)).isEmpty();
        assertThat(store.journal().since(1).get(0).planned()).contains(Instant.parse("2026-11-23T11:00:00Z"));
    }

    @Test
    void stepsAreUndoneRedoneAndForgottenInTheirOrder() throws Exception {
        long id = store.drafts()
                .begin(writeRequest(), "", "", List.of(List.of(item("one")), List.of(item("two"), item("three"))));
        store.drafts().stage(writeRequest(), draft(id), List.of(item("four")));
        for (int i = 0; i < 2; i++) {
            Draft draft = draft(id);
            store.drafts()
                    .turn(writeRequest(), draft, draft.steps().get(draft.steps().size() - 1), true);
        }
        assertThat(kinds(draft(id).steps())).containsExactly("one");
        assertThat(kinds(draft(id).undone())).containsExactly("two", "three", "four");
        store.drafts().turn(writeRequest(), draft(id), draft(id).undone().get(0), false);
        assertThat(kinds(draft(id).steps())).containsExactly("one", "two", "three");
        store.drafts().stage(writeRequest(), draft(id), List.of(item("five")));
        assertThat(kinds(draft(id).steps())).containsExactly("one", "two", "three", "five");
        assertThat(draft(id).undone()).isEmpty();
        Draft.Step second = draft(id).steps().get(1);
        store.drafts().rewrite(writeRequest(), draft(id), new Draft.Step(second.number(), List.of(item("other"))));
        store.drafts().rewrite(writeRequest(), draft(id), new Draft.Step(1, List.of()));
        assertThat(kinds(draft(id).steps())).containsExactly("other", "five");
    }

    @Test
    void onlyDraftsThatAreDueAndNotStuckAreFoundByTheirTime() throws Exception {
        Instant noon = Instant.parse("2026-11-23T12:00:00Z");
        List<Long> ids = new ArrayList<>();
        for (int i = 0; i < 4; i++) ids.add(store.drafts().begin(writeRequest(), "draft " + i));
        store.drafts().amend(writeRequest(), draft(ids.get(0)), "late", "", Optional.of(noon), Optional.empty());
        store.drafts()
                .amend(
                        writeRequest(),
                        draft(ids.get(1)),
                        "first",
                        "",
                        Optional.of(noon.minusSeconds(9)),
                        Optional.empty());
        store.drafts()
                .amend(writeRequest(), draft(ids.get(2)), "stuck", "", Optional.of(noon), Optional.of("it clashes"));
        assertThat(store.drafts().due(noon)).containsExactly(ids.get(1), ids.get(0));
        assertThat(store.drafts().due(noon.minusSeconds(1))).containsExactly(ids.get(1));
    }

    @Test
    void aListOfDraftsSaysWhatTheyHoldAndLeavesOutNoneThatIsPlanned() throws Exception {
        Instant noon = Instant.parse("2026-11-23T12:00:00Z");
        List<Long> ids = new ArrayList<>();
        for (int i = 0; i < 5; i++)
            ids.add(store.drafts().begin(new WriteRequest("d" + i, "Ivo Tarn", "", noon.plusSeconds(i)), "draft " + i));
        store.drafts()
                .amend(
                        new WriteRequest("p", "Ivo Tarn", "", noon),
                        draft(ids.get(0)),
                        "planned",
                        "",
                        Optional.of(noon.plusSeconds(60)),
                        Optional.empty());
        long last = ids.get(4);
        store.drafts()
                .stage(
                        new WriteRequest("s1", "Ivo Tarn", "", noon.plusSeconds(9)),
                        draft(last),
                        List.of(item("one"), item("two")));
        store.drafts()
                .stage(
                        new WriteRequest("s2", "Ivo Tarn", "", noon.plusSeconds(9)),
                        draft(last),
                        List.of(item("three")));
        long whole = store.drafts().size(last);
        store.drafts()
                .turn(
                        new WriteRequest("t", "Ivo Tarn", "", noon.plusSeconds(9)),
                        draft(last),
                        draft(last).steps().get(1),
                        true);
        List<DraftLine> listed = store.drafts().lines(2);
        assertThat(listed).extracting(DraftLine::id).containsExactly(last, ids.get(3), ids.get(2), ids.get(0));
        assertThat(listed).extracting(DraftLine::edits).containsExactly(2, 0, 0, 0);
        assertThat(listed.get(3).due()).contains(noon.plusSeconds(60));
        assertThat(store.drafts().lines(1)).extracting(DraftLine::id).containsExactly(last, ids.get(3), ids.get(0));
        assertThat(whole).isGreaterThan(100).isEqualTo(store.drafts().size(last));
        assertThat(store.drafts().size(ids.get(3))).isZero();
    }

    @Test
    void aRequestThatComesAgainIsNotCarriedOutAgain() throws Exception {
        WriteRequest writeRequest =
                new WriteRequest("one key", "Ivo Tarn", "print", Instant.parse("2026-11-23T12:00:00Z"));
        store.parts()
                .replace(
                        writeRequest,
                        0,
                        entry("put"),
                        parts(RandomEstate.json(1)).stream(),
                        seats(RandomEstate.json(1)));
        assertThatThrownBy(() -> store.parts()
                        .replace(
                                writeRequest,
                                1,
                                entry("again"),
                                java.util.stream.Stream.empty(),
                                EntityTable.Seats::none))
                .isInstanceOfSatisfying(
                        DuplicateRequestException.class,
                        r -> assertThat(r.reference()).isEqualTo(1));
        assertThat(store.journal().latest()).isEqualTo(1);
        assertThat(store.database().done("one key").orElseThrow().answer()).isEmpty();
        store.database().note("one key", Json.NODES.objectNode().put("status", 201));
        assertThat(store.database()
                        .done("one key")
                        .orElseThrow()
                        .answer()
                        .orElseThrow()
                        .get("status")
                        .asInt())
                .isEqualTo(201);
        assertThat(store.database().forget(Instant.parse("2026-11-24T12:00:00Z")))
                .isPositive();
        assertThat(store.database().done("one key")).isEmpty();
    }

    private static StoredEntity policy(String id) {
        return new StoredEntity("policies", id, "{\"id\":\"" + id + "\",\"name\":\"" + id + "\"}");
    }

    @Test
    void whatDiffersBetweenTwoChangesIsToldUpToABoundAndNotAcrossAFile() throws Exception {
        ObjectNode estate = RandomEstate.json(1);
        store.parts().replace(writeRequest(), 0, entry("put"), parts(estate).stream(), seats(estate));
        store.parts().publish(writeRequest(), 1, entry("one"), List.of(policy("one")), List.of(), List.of());
        store.parts()
                .publish(
                        writeRequest(), 2, entry("other"), List.of(policy("other")), List.of(policy("one")), List.of());
        StoredEntity noOne = new StoredEntity("policies", "one", "");
        StoredEntity noOther = new StoredEntity("policies", "other", "");
        assertThat(difference(1, 3, 9)).hasValue(Set.of(noOther));
        assertThat(difference(3, 1, 9)).hasValue(Set.of(policy("other")));
        assertThat(difference(2, 3, 9)).hasValue(Set.of(policy("one"), noOther));
        assertThat(difference(3, 2, 2)).hasValue(Set.of(noOne, policy("other")));
        assertThat(difference(3, 2, 1)).isEmpty();
        assertThat(difference(3, 3, 0)).hasValue(Set.of());
        ObjectNode another = RandomEstate.json(2);
        store.parts().replace(writeRequest(), 3, entry("put again"), parts(another).stream(), seats(another));
        assertThat(difference(3, 4, 1000)).isEmpty();
        assertThat(difference(4, 2, 1000)).isEmpty();
    }

    private Optional<Set<StoredEntity>> difference(long then, long here, int most) {
        return store.parts().difference(then, here, most).map(d -> Set.copyOf(d.entities()));
    }

    @Test
    void anAddressSaysHowLongADatabaseThatSaysNothingIsWaitedFor() {
        String address = ThrowAwayPostgres.get().newDatabase("waiting");
        assertThat(waitsMillis(address)).isEqualTo(30_000);
        assertThat(waitsMillis(address + "?socketTimeout=7")).isEqualTo(7_000);
    }

    private static int waitsMillis(String address) {
        AtomicInteger millis = new AtomicInteger();
        var postgres = ThrowAwayPostgres.get();
        try (Store patient = new Store(address, postgres.user(), postgres.password())) {
            patient.database().write(writeRequest(), tx -> {
                tx.connection(c -> millis.set(c.getNetworkTimeout()));
                return 0;
            });
        }
        return millis.get();
    }

    @Test
    void theJournalNeverGoesBackInTime() throws Exception {
        NewChange late = entry("late");
        store.parts()
                .replace(writeRequest(), 0, late, parts(RandomEstate.json(1)).stream(), seats(RandomEstate.json(1)));
        NewChange early = new NewChange(
                late.at().minusSeconds(60),
                late.author(),
                false,
                "early",
                late.edits(),
                late.words(),
                late.ripple(),
                Optional.empty(),
                Optional.empty());
        Change told = store.parts().publish(writeRequest(), 1, early, List.of(), List.of(), List.of());
        assertThat(store.journal().since(0)).extracting(Change::at).containsExactly(late.at(), late.at());
        assertThat(told).isEqualTo(store.journal().change(2).orElseThrow());
        assertThat(store.journal().numberAt(late.at())).isEqualTo(2);
    }
}
