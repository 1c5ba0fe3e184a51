package leanladder.server.draft;

import com.fasterxml.jackson.databind.JsonNode;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import leanladder.edit.session.EditKinds;
import leanladder.edit.session.EditSession;
import leanladder.edit.session.InverseBuilder;
import leanladder.json.Defects;
import leanladder.json.JsonCursor;
import leanladder.server.http.ProblemException;
import leanladder.server.state.Timeline;
import leanladder.store.Store;
import leanladder.store.journal.Change;

/** The edits that take published changes back. */
public record UndoService(Store store, Timeline timeline) {
    /** The change of this number; a problem when there is none. */
    public Change change(long number) {
        return store.journal()
                .change(number)
                .orElseThrow(() -> ProblemException.unknown("There is no change " + number + "."));
    }

    /** The edits that take a change back, read off the estate before it; a problem where it cannot be taken back. */
    public List<JsonNode> of(Change change) {
        checkReversible(change);
        return inverse(change, 0, change.edits().size());
    }

    /** The edits that take back one edit of a change, read off the estate directly before it. @param index from 0 */
    public List<JsonNode> of(Change change, int index) {
        checkReversible(change);
        if (index < 0 || index >= change.edits().size())
            throw ProblemException.unknown("Change " + change.number() + " has no edit " + index + ".");
        return inverse(change, index, index + 1);
    }

    private List<JsonNode> inverse(Change change, int from, int until) {
        Defects defects = new Defects();
        EditSession editSession = timeline.editSession(timeline.snapshotAfter(change.number() - 1));
        for (int i = 0; i < from; i++)
            editSession.apply(new JsonCursor(change.edits().get(i), "", defects));
        InverseBuilder inverseBuilder = new InverseBuilder(editSession);
        for (int i = from; i < until; i++)
            inverseBuilder.apply(new JsonCursor(change.edits().get(i), "", defects));
        if (!defects.isEmpty())
            throw new IllegalStateException("The journal holds an edit that does not fit: " + defects.all());
        List<JsonNode> edits = new ArrayList<>();
        inverseBuilder.edits().forEach(edits::add);
        return edits;
    }

    /** The edits that bring a policy back to what it was at an instant. */
    public List<JsonNode> restoration(String policy, Instant at) {
        return PolicyRestoration.edits(
                policy, timeline.present().estate(), timeline.snapshotAt(at).estate());
    }

    private static void checkReversible(Change change) {
        if (change.replacesEstate())
            throw cannot(change, " replaced the whole estate. Put an export from before it in its place instead.");
        for (JsonNode edit : change.edits())
            if (EditKinds.find(edit).isEmpty())
                throw cannot(
                        change,
                        " holds an edit of the kind \"" + edit.path("kind").asText()
                                + "\", which this version does not know. It was published by another version; undo it there.");
    }

    private static ProblemException cannot(Change change, String why) {
        return ProblemException.refused(422, "Cannot be undone", "Change " + change.number() + why);
    }
}
