package leanladder.server.fuzz;

import com.code_intelligence.jazzer.junit.FuzzTest;
import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import leanladder.RandomEstate;
import leanladder.edit.session.AppliedEdit;
import leanladder.edit.session.EditKinds;
import leanladder.edit.session.EditSession;
import leanladder.edit.session.RandomEdits;
import leanladder.json.Defects;
import leanladder.json.Json;
import leanladder.json.JsonCursor;
import leanladder.resolve.CompiledEstate;
import leanladder.text.EditFormatter;
import leanladder.text.EstateFormatter;
import leanladder.workingcopy.EntityStore;

/** An edit of whatever bytes is refused with a reason, or told, carried out and taken back. */
class EditFuzzTest {
    private static final ObjectNode FILE = file();
    private static final CompiledEstate GROUND = new CompiledEstate(RandomEstate.read(FILE));
    private static final EntityStore STORED = RandomEdits.bodies(FILE);

    private static ObjectNode file() {
        try {
            return (ObjectNode) Json.read(Files.readString(Path.of("../core/src/test/resources/small-estate.json")));
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    @FuzzTest(maxDuration = "3s")
    void anEditIsRefusedOrCarriedOutAndTakenBack(byte[] body) {
        if (body.length == 0) return;
        // The first byte chooses a kind, so that every one of them is met at once.
        List<String> kinds = EditKinds.all().stream().map(k -> k.name()).toList();
        JsonNode sent;
        try {
            sent = Json.parse(new String(body, 1, body.length - 1, StandardCharsets.UTF_8));
        } catch (JsonProcessingException notJson) {
            return;
        }
        if (sent instanceof ObjectNode object && !object.has("kind"))
            object.put("kind", kinds.get(Byte.toUnsignedInt(body[0]) % kinds.size()));
        EditSession editSession = new EditSession(GROUND, STORED);
        Defects defects = new Defects();
        Optional<AppliedEdit> edit = editSession.apply(new JsonCursor(sent, "", defects));
        if (edit.isEmpty()) {
            if (defects.all().isEmpty()) throw new AssertionError("It is refused and nobody says why: " + sent);
            return;
        }
        if (new EditFormatter(new EstateFormatter(GROUND.estate(), Instant.EPOCH))
                .format(edit.get())
                .isBlank()) throw new AssertionError("It has no words: " + sent);
        edit.get().inverse();
        editSession.compile();
    }
}
