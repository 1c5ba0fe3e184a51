package leanladder.server.search;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.EnumSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import leanladder.RandomEstate;
import leanladder.edit.session.EditSession;
import leanladder.edit.session.RandomDraft;
import leanladder.edit.session.RandomEdits;
import leanladder.estate.Estate;
import leanladder.json.Defects;
import leanladder.json.Json;
import leanladder.json.JsonCursor;
import leanladder.resolve.CompiledEstate;
import org.junit.jupiter.api.Test;

/** An index that follows edits finds what one that is computed anew finds. */
class SearchIndexUpdateTest {
    private static final List<String> WORDS = List.of(
            "unit",
            "unit 2",
            "account",
            "account 3",
            "new",
            "renamed",
            "new renamed",
            "account renamed",
            "group",
            "other",
            "policy",
            "plan",
            "workspace",
            "setting",
            "setting 1",
            "z",
            "person",
            "7");
    private static final Set<SearchIndex.HitKind> ALL = EnumSet.allOf(SearchIndex.HitKind.class);

    private static void assertFindsTheSame(SearchIndex updated, SearchIndex computed, String edits) {
        for (String words : WORDS) {
            List<String> asked = leanladder.server.paging.FuzzyMatcher.words(words);
            assertThat(updated.find(asked, ALL, 1000))
                    .as(words + " after " + edits)
                    .isEqualTo(computed.find(asked, ALL, 1000));
        }
    }

    @Test
    void updateEqualsComputeAfterRandomComposedEdits() {
        for (long seed = 1; seed <= 60; seed++) {
            ObjectNode file = RandomEstate.json(seed);
            CompiledEstate base = new CompiledEstate(RandomEstate.read(file));
            EditSession session = new EditSession(base, RandomEdits.bodies(file));
            RandomDraft draft = new RandomDraft(base, seed);
            SearchIndex index = new SearchIndex(base.estate());
            StringBuilder edits = new StringBuilder("seed " + seed);
            for (int applied = 0; applied < 12 && draft.isGoingOn(); ) {
                JsonNode edit = Json.read(draft.next(session.compile()));
                EditSession one = session.copy();
                if (one.apply(new JsonCursor(edit, "", new Defects())).isEmpty()) continue;
                applied++;
                edits.append('\n').append(edit);
                session = one;
                Estate after = session.compile().estate();
                Optional<SearchIndex> updated = index.update(after, session.writeSet());
                SearchIndex computed = new SearchIndex(after);
                updated.ifPresent(u -> assertFindsTheSame(u, computed, edits.toString()));
                index = updated.orElse(computed);
            }
        }
    }

    @Test
    void peopleAreFoundByTheNewNameOfTheirUnitAndNotByTheOldOne() {
        ObjectNode file = RandomEstate.json(1);
        file.withArray("units")
                .addObject()
                .put("id", "deck")
                .put("name", "Deck")
                .put("parent", "u0");
        file.withArray("accounts")
                .addObject()
                .put("id", "bo")
                .put("userName", "bo@skerrymore.example")
                .put("displayName", "Bo")
                .put("kind", "person")
                .put("unit", "deck");
        CompiledEstate base = new CompiledEstate(RandomEstate.read(file));
        EditSession session = new EditSession(base, RandomEdits.bodies(file));
        session.apply(new JsonCursor(
                Json.read("{\"kind\":\"amend-unit\",\"unit\":\"deck\",\"members\":{\"name\":\"Quayside\"}}"),
                "",
                new Defects()));
        SearchIndex updated = new SearchIndex(base.estate())
                .update(session.compile().estate(), session.writeSet())
                .orElseThrow();
        Set<SearchIndex.HitKind> accounts = EnumSet.of(SearchIndex.HitKind.ACCOUNT);
        assertThat(updated.find(List.of("bo", "quayside"), accounts, 9)).hasSize(1);
        assertThat(updated.find(List.of("bo", "deck"), accounts, 9)).isEmpty();
    }
}
