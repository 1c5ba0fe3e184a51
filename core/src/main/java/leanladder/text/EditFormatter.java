package leanladder.text;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import leanladder.edit.Edit;
import leanladder.edit.directory.EntityEdit;
import leanladder.edit.policy.PolicyEdit;
import leanladder.edit.preview.ReleaseEdit;
import leanladder.edit.preview.SelfServiceEdit;
import leanladder.edit.preview.UpdateRings;
import leanladder.edit.seat.PlanEdit;
import leanladder.edit.session.BatchEdit;
import leanladder.edit.session.EditSession;
import leanladder.workingcopy.Overlay;

/**
 * Describes edits in English. A sentence has no full stop, and uses the names that things have before the edit. A batch of a few edits is told
 * edit by edit, a longer one by how many there are of each sort.
 */
public final class EditFormatter {
    private static final int FEW = 3;

    private final PolicyEditFormatter policies;
    private final EntityEditFormatter entities;
    private final PreviewEditFormatter previews;
    private final SeatEditFormatter seats;

    /** @param estateFormatter words values and instants */
    public EditFormatter(EstateFormatter estateFormatter) {
        policies = new PolicyEditFormatter(estateFormatter);
        entities = new EntityEditFormatter(estateFormatter);
        previews = new PreviewEditFormatter(estateFormatter);
        seats = new SeatEditFormatter(estateFormatter);
    }

    /** The sentence of an edit, on the estate before it is applied. */
    public String format(Edit edit, Overlay before) {
        if (edit instanceof PolicyEdit policyEdit) return policies.format(policyEdit, before);
        if (edit instanceof EntityEdit<?> entityEdit) return entities.format(entityEdit, before);
        if (edit instanceof PlanEdit planEdit) return seats.format(planEdit, before);
        if (edit instanceof ReleaseEdit releaseEdit) return previews.format(releaseEdit, before);
        if (edit instanceof SelfServiceEdit selfServiceEdit) return previews.format(selfServiceEdit, before);
        if (edit instanceof UpdateRings updateRings) return previews.format(updateRings, before);
        if (edit instanceof BatchEdit batchEdit) return format(batchEdit, before);
        throw unknown(edit);
    }

    /** How many edits of the sort of this one are told. */
    public PluralText count(Edit edit) {
        if (edit instanceof PolicyEdit policyEdit) return policies.count(policyEdit);
        if (edit instanceof EntityEdit<?> entityEdit) return entities.count(entityEdit);
        if (edit instanceof PlanEdit) return seats.count();
        if (edit instanceof ReleaseEdit || edit instanceof SelfServiceEdit || edit instanceof UpdateRings)
            return previews.count(edit);
        if (edit instanceof BatchEdit) return new PluralText("one batch", "# batches");
        throw unknown(edit);
    }

    private static IllegalArgumentException unknown(Edit edit) {
        return new IllegalArgumentException("No sentence for edits of the kind " + edit.kind());
    }

    private String format(BatchEdit batch, Overlay before) {
        String from = batch.source().isEmpty() ? "" : " (from " + batch.source() + ")";
        if (batch.edits().size() <= FEW) {
            Overlay trial = before.copy();
            List<String> told = new ArrayList<>();
            for (Edit edit : batch.edits()) {
                told.add(format(edit, trial));
                EditSession.apply(edit, trial);
            }
            return String.join("; ", told) + from;
        }
        Map<PluralText, Integer> counts = new LinkedHashMap<>();
        for (Edit edit : batch.edits()) counts.merge(count(edit), 1, Integer::sum);
        return counts.entrySet().stream().map(c -> c.getKey().of(c.getValue())).collect(Collectors.joining(", "))
                + from;
    }
}
