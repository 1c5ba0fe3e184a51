package leanladder.change;

import com.fasterxml.jackson.databind.JsonNode;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import java.util.stream.Collectors;
import leanladder.change.directory.AddPart;
import leanladder.change.directory.AmendPart;
import leanladder.change.directory.PutMembers;
import leanladder.change.directory.RemoveMembers;
import leanladder.change.directory.RemovePart;
import leanladder.change.overlay.EditKind;
import leanladder.change.overlay.PartType;
import leanladder.change.overlay.Right;
import leanladder.change.policy.AddPolicy;
import leanladder.change.policy.AmendPolicy;
import leanladder.change.policy.PutAssignment;
import leanladder.change.policy.PutStatement;
import leanladder.change.policy.RankPolicy;
import leanladder.change.policy.RemoveAssignment;
import leanladder.change.policy.RemovePolicy;
import leanladder.change.policy.RemoveStatement;
import leanladder.change.preview.ArrangeRings;
import leanladder.change.preview.AskEdit;
import leanladder.change.preview.ConsentEdit;
import leanladder.change.preview.HoldRelease;
import leanladder.change.preview.LetGo;
import leanladder.change.preview.OpenEarly;
import leanladder.change.preview.OpenRelease;
import leanladder.change.seat.BuySeats;
import leanladder.change.seat.GiveSeats;
import leanladder.change.seat.PutRule;
import leanladder.change.seat.RankRule;
import leanladder.change.seat.RemoveRule;
import leanladder.change.seat.ReturnSeats;
import leanladder.change.seat.TakeSeats;
import leanladder.document.Place;

/** All kinds of edit; whoever makes a new one adds it here. */
public final class Kinds {
    private static final List<EditKind> ALL = List.of(
            AddPolicy.KIND,
            RemovePolicy.KIND,
            AmendPolicy.KIND,
            PutStatement.KIND,
            RemoveStatement.KIND,
            PutAssignment.KIND,
            RemoveAssignment.KIND,
            RankPolicy.KIND,
            AddPart.kind(PartType.UNIT),
            AmendPart.kind(PartType.UNIT),
            RemovePart.kind(PartType.UNIT),
            AddPart.kind(PartType.ACCOUNT),
            AmendPart.kind(PartType.ACCOUNT),
            RemovePart.kind(PartType.ACCOUNT),
            AddPart.kind(PartType.GROUP),
            AmendPart.kind(PartType.GROUP),
            RemovePart.kind(PartType.GROUP),
            PutMembers.KIND,
            RemoveMembers.KIND,
            AddPart.kind(PartType.WORKSPACE),
            AmendPart.kind(PartType.WORKSPACE),
            RemovePart.kind(PartType.WORKSPACE),
            AmendPart.kind(PartType.SETTING),
            AddPart.kind(PartType.PLAN),
            AmendPart.kind(PartType.PLAN),
            RemovePart.kind(PartType.PLAN),
            BuySeats.KIND,
            ReturnSeats.KIND,
            PutRule.KIND,
            RemoveRule.KIND,
            RankRule.KIND,
            GiveSeats.KIND,
            TakeSeats.KIND,
            AddPart.kind(PartType.RELEASE),
            AmendPart.kind(PartType.RELEASE),
            RemovePart.kind(PartType.RELEASE),
            OpenRelease.KIND,
            OpenEarly.KIND,
            HoldRelease.KIND,
            LetGo.KIND,
            ArrangeRings.KIND,
            AskEdit.ASK,
            AskEdit.STOP,
            AskEdit.DECLINE,
            ConsentEdit.GIVE,
            ConsentEdit.WITHDRAW,
            ConsentEdit.RECORD,
            AddPart.kind(PartType.FEEDBACK, Right.OWN_WORD),
            AmendPart.kind(PartType.FEEDBACK),
            RemovePart.kind(PartType.FEEDBACK),
            Batch.KIND);
    static final String UNKNOWN =
            "must be the kind of an edit, such as put-statement, put-assignment, put-members or amend-account;"
                    + " /api/v1/openapi.json lists them";

    private static final Map<String, EditKind> BY_NAME =
            ALL.stream().collect(Collectors.toUnmodifiableMap(EditKind::name, Function.identity()));

    private Kinds() {}

    /** Every kind, in the order in which they are described. */
    public static List<EditKind> all() {
        return ALL;
    }

    /** The kind of this name. */
    public static Optional<EditKind> of(String name) {
        return Optional.ofNullable(BY_NAME.get(name));
    }

    /** The kind of an edit as it is written; empty for what replaced the whole estate, and what no kind knows. */
    public static Optional<EditKind> of(JsonNode edit) {
        return of(edit.path("kind").asText());
    }

    /**
     * Reports an edit that is not of a known kind, or lacks a member that its kind requires, be it in a batch. This needs no estate;
     * whether the edit fits one is for {@link EditKind#read} to say.
     */
    public static void checkForm(Place edit) {
        Optional<String> name = edit.required("kind").flatMap(Place::text);
        if (name.isEmpty()) return;
        Optional<EditKind> kind = of(name.get());
        if (kind.isEmpty()) {
            edit.member("kind").orElseThrow().defect(UNKNOWN);
            return;
        }
        kind.get().requiredMembers().forEach(edit::required);
        if (kind.get() == Batch.KIND) edit.items("edits").forEach(Kinds::checkForm);
    }

    /** The paths that an edit touches; everything, for one whose kind is not known. */
    static Set<String> paths(JsonNode edit) {
        return of(edit).map(kind -> kind.paths(edit)).orElse(Set.of(""));
    }

    /** Ids of the accounts whose stored bodies are asked for when an edit is read. */
    static List<String> accountsAskedFor(JsonNode edit) {
        return of(edit).map(kind -> kind.accountsAskedFor(edit)).orElse(List.of());
    }

    /** What is needed in order to publish an edit; for one whose kind is not known, everything. */
    public static Set<Right> rights(JsonNode edit) {
        if (edit.path("kind").asText().equals(Batch.KIND.name())) {
            Set<Right> rights = new HashSet<>();
            edit.path("edits").forEach(one -> rights.addAll(rights(one)));
            return rights;
        }
        return of(edit).map(kind -> Set.of(kind.right())).orElse(Set.of(Right.values()));
    }
}
