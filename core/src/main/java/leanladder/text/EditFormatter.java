package leanladder.text;

import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import leanladder.edit.Edit;
import leanladder.edit.EditKind;
import leanladder.edit.catalogue.UpdateCatalogue;
import leanladder.edit.directory.EntityEdit;
import leanladder.edit.policy.PolicyEdit;
import leanladder.edit.preview.ReleaseEdit;
import leanladder.edit.preview.SelfServiceEdit;
import leanladder.edit.preview.UpdateRings;
import leanladder.edit.preview.UpdateTracks;
import leanladder.edit.seat.PlanEdit;
import leanladder.edit.session.AppliedEdit;
import leanladder.edit.session.BatchEdit;
import leanladder.edit.session.EditKinds;
import leanladder.edit.session.EditSession;
import leanladder.json.Defects;
import leanladder.json.JsonCursor;
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

    /** The sentence of an edit. */
    public String format(AppliedEdit applied) {
        Edit edit = applied.edit();
        Overlay before = applied.before();
        if (edit instanceof PolicyEdit policyEdit) return policies.format(policyEdit, before);
        if (edit instanceof EntityEdit entityEdit) return entities.format(entityEdit, before);
        if (edit instanceof PlanEdit planEdit) return seats.format(planEdit, before);
        if (edit instanceof ReleaseEdit releaseEdit) return previews.format(releaseEdit, before);
        if (edit instanceof SelfServiceEdit selfServiceEdit) return previews.format(selfServiceEdit, before);
        if (edit instanceof UpdateCatalogue updateCatalogue) return catalogue(updateCatalogue);
        if (edit instanceof UpdateRings updateRings) return previews.format(updateRings, before);
        if (edit instanceof UpdateTracks updateTracks) return previews.format(updateTracks, before);
        if (edit instanceof BatchEdit batchEdit) return format(batchEdit, before);
        throw unknown(applied.kind());
    }

    /** How many edits of a kind are told. */
    public PluralText count(EditKind kind) {
        Class<? extends Edit> type = kind.type();
        if (PolicyEdit.class.isAssignableFrom(type)) return policies.count(type);
        if (EntityEdit.class.isAssignableFrom(type)) return entities.count(kind);
        if (PlanEdit.class.isAssignableFrom(type)) return seats.count();
        if (UpdateCatalogue.class == type)
            return new PluralText("the catalogue changes", "the catalogue changes # times");
        if (BatchEdit.class == type) return new PluralText("one batch", "# batches");
        return previews.count(type);
    }

    private static String catalogue(UpdateCatalogue edit) {
        List<String> members = new ArrayList<>();
        edit.members().fieldNames().forEachRemaining(members::add);
        return "The catalogue has other "
                + members.stream()
                        .map(m -> m.equals("sizes") ? "sizes of hosting" : m)
                        .collect(Collectors.joining(" and "));
    }

    private static IllegalArgumentException unknown(EditKind kind) {
        return new IllegalArgumentException("No sentence for edits of the kind " + kind);
    }

    private String format(BatchEdit batch, Overlay before) {
        String source = batch.source();
        String from = source == null ? "" : " (from " + source + ")";
        if (batch.edits().size() <= FEW) {
            Overlay trial = before.copy();
            List<String> told = new ArrayList<>();
            for (ObjectNode one : batch.edits())
                EditSession.apply(new JsonCursor(one, "", new Defects()), trial)
                        .ifPresent(applied -> told.add(format(applied)));
            return String.join("; ", told) + from;
        }
        Map<PluralText, Integer> counts = new LinkedHashMap<>();
        for (ObjectNode one : batch.edits())
            counts.merge(count(EditKinds.find(one).orElseThrow()), 1, Integer::sum);
        return counts.entrySet().stream().map(c -> c.getKey().of(c.getValue())).collect(Collectors.joining(", "))
                + from;
    }
}
