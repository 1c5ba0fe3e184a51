package leanladder.server.explain;

import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.Optional;
import leanladder.edit.session.EditSession;
import leanladder.json.Defects;
import leanladder.json.JsonCursor;
import leanladder.resolve.CompiledEstate;
import leanladder.resolve.EvaluationContext;
import leanladder.ripple.Ripple;
import leanladder.server.query.QueryContext;
import leanladder.server.state.Timeline;

/**
 * An edit tried on what was asked about; nothing is kept of it.
 *
 * @param after the estate with the edit
 * @param ripple what changes by it
 */
record EditTrial(CompiledEstate after, Ripple ripple) {
    /** Tries an edit; empty where it does not fit, which is then reported. */
    static Optional<EditTrial> of(
            ObjectNode edit,
            QueryContext queryContext,
            EvaluationContext evaluationContext,
            Timeline timeline,
            Defects defects) {
        EditSession editSession = timeline.editSession(queryContext.snapshot());
        return editSession.apply(new JsonCursor(edit, "", defects)).map(applied -> {
            CompiledEstate after = editSession.compile();
            return new EditTrial(
                    after,
                    new Ripple(
                            editSession,
                            after,
                            evaluationContext,
                            queryContext
                                    .snapshot()
                                    .resolutionAt(evaluationContext)
                                    .entitlements()));
        });
    }
}
