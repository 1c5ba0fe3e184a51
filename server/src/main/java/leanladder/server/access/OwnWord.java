package leanladder.server.access;

import com.fasterxml.jackson.databind.JsonNode;
import java.util.List;
import leanladder.catalogue.Kind;
import leanladder.change.Kinds;
import leanladder.change.overlay.Right;
import leanladder.document.Defects;
import leanladder.document.Place;
import leanladder.estate.Estate;
import leanladder.server.http.Problem;

/** What a person alone can say of previews: administrators stage and publish everything else. */
public final class OwnWord {
    private static final String THEIRS =
            "is a person's own word on a preview: it is theirs to give and to take back, and nobody's for them";

    private OwnWord() {}

    /** Reports edits that are somebody's own word, be they in a batch, or write over it. */
    public static void refuse(List<Place> edits, Estate estate) {
        for (Place edit : edits) {
            if (!edit.node().isObject()) continue;
            refuse(edit.items("edits"), estate);
            boolean own = Kinds.of(edit.node()).isPresent()
                    && edit.node().path("edits").isMissingNode()
                    && Kinds.rights(edit.node()).contains(Right.OWN_WORD);
            if (own || overwrites(edit.node(), estate)) edit.defect(THEIRS);
        }
    }

    /** The same for edits that a route has put together itself, which is a problem. */
    public static void refuseAll(List<? extends JsonNode> edits, Estate estate) {
        Defects defects = new Defects();
        refuse(edits.stream().map(e -> new Place(e, "", defects)).toList(), estate);
        if (!defects.isEmpty())
            throw Problem.refused(422, "Not yours to take back", "What was published there " + THEIRS + ".");
    }

    private static boolean overwrites(JsonNode edit, Estate estate) {
        return edit.path("kind").asText().equals("amend-account")
                && (edit.path("members").has("consents") || edit.path("members").has("asked"))
                && estate.account(edit.path("account").asText())
                        .filter(a -> a.kind() != Kind.ROOM)
                        .isPresent();
    }
}
