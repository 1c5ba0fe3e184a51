package leanladder.server.access;

import com.fasterxml.jackson.databind.JsonNode;
import java.util.ArrayList;
import java.util.List;
import leanladder.catalogue.AccountKind;
import leanladder.edit.session.EditKinds;
import leanladder.estate.Estate;
import leanladder.json.JsonCursor;
import leanladder.server.http.ProblemException;
import leanladder.workingcopy.Duty;

/** What a person alone can say of previews: administrators stage and publish everything else. */
public final class SelfServiceGuard {
    private static final String THEIRS =
            "is a person's own word on a preview: it is theirs to give and to take back, and nobody's for them";

    private SelfServiceGuard() {}

    /** Reports edits that are somebody's own word, be they in a batch, or write over it. */
    public static void refuse(List<JsonCursor> edits, Estate estate) {
        for (JsonCursor edit : edits) {
            if (!edit.node().isObject()) continue;
            refuse(edit.items("edits"), estate);
            if (isOwn(edit.node()) || overwrites(edit.node(), estate) || invents(edit.node())) edit.defect(THEIRS);
        }
    }

    /**
     * Refuses, as a problem, edits that undo somebody's own word. Undoing the removal of an account brings its consents back: they
     * were that person's word.
     */
    public static void refuseUndo(List<? extends JsonNode> edits, Estate estate) {
        for (JsonNode edit : edits) {
            if (isOwn(edit) || overwrites(edit, estate))
                throw ProblemException.refused(
                        422, "Not yours to take back", "What was published there " + THEIRS + ".");
            List<JsonNode> inner = new ArrayList<>();
            edit.path("edits").forEach(inner::add);
            refuseUndo(inner, estate);
        }
    }

    private static boolean isOwn(JsonNode edit) {
        return EditKinds.find(edit).isPresent()
                && edit.path("edits").isMissingNode()
                && EditKinds.rights(edit).contains(Duty.OWN_WORD);
    }

    /** Whether an edit writes over the consents or invitations of an account that exists, an account of the kind room excepted. */
    private static boolean overwrites(JsonNode edit, Estate estate) {
        return edit.path("kind").asText().equals("amend-account")
                && (edit.path("members").has("consents") || edit.path("members").has("asked"))
                && estate.account(edit.path("account").asText())
                        .filter(a -> a.kind() == AccountKind.ROOM)
                        .isEmpty();
    }

    /** Whether an edit adds an account that has consents or invitations already, an account of the kind room excepted. */
    private static boolean invents(JsonNode edit) {
        JsonNode account = edit.path("account");
        return edit.path("kind").asText().equals("add-account")
                && !account.path("kind").asText().equals(AccountKind.ROOM.word())
                && !(account.path("consents").isEmpty() && account.path("asked").isEmpty());
    }
}
