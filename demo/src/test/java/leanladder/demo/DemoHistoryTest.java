package leanladder.demo;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.io.ByteArrayInputStream;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import leanladder.edit.session.EditSession;
import leanladder.estate.Estate;
import leanladder.estate.Policy;
import leanladder.estate.read.EstateReader;
import leanladder.json.Defects;
import leanladder.json.Json;
import leanladder.json.JsonCursor;
import leanladder.resolve.CompiledEstate;
import org.junit.jupiter.api.Test;

class DemoHistoryTest {
    private static final ObjectNode HISTORY = new DemoHistory().build();

    private static Estate read(JsonNode estate) throws Exception {
        return EstateReader.read(new ByteArrayInputStream(Json.MAPPER.writeValueAsBytes(estate)), entityRecord -> {})
                .estate();
    }

    @Test
    void theLastChangeLeavesTheDemoEstate() throws Exception {
        JsonNode first = HISTORY.get("estate");
        EditSession editSession = new EditSession(new CompiledEstate(read(first)), (section, key) -> {
            for (JsonNode part : first.get(section.member()))
                if (part.get("id").asText().equals(key)) return (ObjectNode) part;
            throw new IllegalStateException(key);
        });
        for (JsonNode change : HISTORY.get("changes"))
            for (JsonNode edit : change.get("edits")) {
                Defects defects = new Defects();
                assertThat(editSession.apply(new JsonCursor(edit, "", defects)))
                        .as("%s: %s", change.get("note"), defects.all())
                        .isPresent();
            }
        Estate wanted = read(new DemoEstate().build());
        Estate got = editSession.compile().estate();
        assertThat(got.policies().stream().map(Policy::id))
                .containsExactlyElementsOf(
                        wanted.policies().stream().map(Policy::id).toList());
        for (Policy policy : wanted.policies()) {
            Policy same = got.policy(policy.id()).orElseThrow();
            assertThat(Set.copyOf(same.statements())).as(policy.id()).isEqualTo(Set.copyOf(policy.statements()));
            assertThat(Set.copyOf(same.assignments())).as(policy.id()).isEqualTo(Set.copyOf(policy.assignments()));
            assertThat(same.live()).as(policy.id()).isEqualTo(policy.live());
        }
    }

    @Test
    void threeAdministratorsPublishOneAfterTheOtherOverWeeks() {
        List<Integer> days = new ArrayList<>();
        Set<String> authors = new HashSet<>();
        HISTORY.get("changes").forEach(c -> {
            days.add(c.path("days").asInt(0));
            authors.add(c.get("author").asText());
            assertThat(c.get("edits")).isNotEmpty();
        });
        assertThat(days)
                .isSortedAccordingTo((a, b) -> b - a)
                .allSatisfy(d -> assertThat(d).isLessThan(HISTORY.get("days").asInt()));
        assertThat(authors).hasSize(3);
    }
}
