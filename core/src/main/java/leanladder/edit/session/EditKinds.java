package leanladder.edit.session;

import com.fasterxml.jackson.databind.JsonNode;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import java.util.stream.Collectors;
import leanladder.edit.Edit;
import leanladder.edit.EditKind;
import leanladder.edit.catalogue.UpdateCatalogue;
import leanladder.edit.directory.AddEntity;
import leanladder.edit.directory.AddMembers;
import leanladder.edit.directory.RemoveEntity;
import leanladder.edit.directory.RemoveMembers;
import leanladder.edit.directory.UpdateEntity;
import leanladder.edit.policy.AddPolicy;
import leanladder.edit.policy.ChangePolicy;
import leanladder.edit.policy.ClearAssignments;
import leanladder.edit.policy.MovePolicy;
import leanladder.edit.policy.PutAssignment;
import leanladder.edit.policy.PutStatement;
import leanladder.edit.policy.RemoveAssignment;
import leanladder.edit.policy.RemovePolicy;
import leanladder.edit.policy.RemoveStatement;
import leanladder.edit.preview.AskToJoin;
import leanladder.edit.preview.DeclinePreview;
import leanladder.edit.preview.GiveConsent;
import leanladder.edit.preview.GrantEarlyAccess;
import leanladder.edit.preview.PauseRelease;
import leanladder.edit.preview.RecordConsent;
import leanladder.edit.preview.ResumeRelease;
import leanladder.edit.preview.SetOpening;
import leanladder.edit.preview.StopAsking;
import leanladder.edit.preview.UpdateRings;
import leanladder.edit.preview.UpdateTracks;
import leanladder.edit.preview.WithdrawConsent;
import leanladder.edit.seat.AddPurchase;
import leanladder.edit.seat.AssignSeats;
import leanladder.edit.seat.MoveRule;
import leanladder.edit.seat.PutRule;
import leanladder.edit.seat.ReducePurchase;
import leanladder.edit.seat.RemoveRule;
import leanladder.edit.seat.RevokeSeats;
import leanladder.json.Defects;
import leanladder.json.JsonCursor;
import leanladder.workingcopy.Duty;
import leanladder.workingcopy.EntityType;

/** All kinds of edit; whoever makes a new one adds it here. */
public final class EditKinds {
    private static final List<EditKind> ALL = List.of(
            AddPolicy.KIND,
            RemovePolicy.KIND,
            ChangePolicy.KIND,
            PutStatement.KIND,
            RemoveStatement.KIND,
            PutAssignment.KIND,
            RemoveAssignment.KIND,
            ClearAssignments.KIND,
            MovePolicy.KIND,
            AddEntity.kind(EntityType.UNIT),
            UpdateEntity.kind(EntityType.UNIT),
            RemoveEntity.kind(EntityType.UNIT),
            AddEntity.kind(EntityType.ACCOUNT),
            UpdateEntity.kind(EntityType.ACCOUNT),
            RemoveEntity.kind(EntityType.ACCOUNT),
            AddEntity.kind(EntityType.GROUP),
            UpdateEntity.kind(EntityType.GROUP),
            RemoveEntity.kind(EntityType.GROUP),
            AddMembers.KIND,
            RemoveMembers.KIND,
            AddEntity.kind(EntityType.HOSTING),
            UpdateEntity.kind(EntityType.HOSTING),
            RemoveEntity.kind(EntityType.HOSTING),
            AddEntity.kind(EntityType.WORKSPACE),
            UpdateEntity.kind(EntityType.WORKSPACE),
            RemoveEntity.kind(EntityType.WORKSPACE),
            AddEntity.kind(EntityType.SETTING),
            UpdateEntity.kind(EntityType.SETTING),
            RemoveEntity.kind(EntityType.SETTING),
            UpdateCatalogue.KIND,
            AddEntity.kind(EntityType.PLAN),
            UpdateEntity.kind(EntityType.PLAN),
            RemoveEntity.kind(EntityType.PLAN),
            AddPurchase.KIND,
            ReducePurchase.KIND,
            PutRule.KIND,
            RemoveRule.KIND,
            MoveRule.KIND,
            AssignSeats.KIND,
            RevokeSeats.KIND,
            AddEntity.kind(EntityType.RELEASE),
            UpdateEntity.kind(EntityType.RELEASE),
            RemoveEntity.kind(EntityType.RELEASE),
            SetOpening.KIND,
            GrantEarlyAccess.KIND,
            PauseRelease.KIND,
            ResumeRelease.KIND,
            UpdateRings.KIND,
            UpdateTracks.KIND,
            AskToJoin.KIND,
            StopAsking.KIND,
            DeclinePreview.KIND,
            GiveConsent.KIND,
            WithdrawConsent.KIND,
            RecordConsent.KIND,
            AddEntity.kind(EntityType.FEEDBACK, Duty.OWN_WORD),
            UpdateEntity.kind(EntityType.FEEDBACK),
            RemoveEntity.kind(EntityType.FEEDBACK),
            BatchEdit.KIND);
    static final String UNKNOWN =
            "must be the kind of an edit, such as put-statement, put-assignment, put-members or amend-account;"
                    + " /api/v1/openapi.json lists them";

    private static final Map<String, EditKind> BY_NAME =
            ALL.stream().collect(Collectors.toUnmodifiableMap(EditKind::name, Function.identity()));

    /** What kinds were called when journals of earlier versions were written. */
    private static final Map<String, String> FORMER_NAMES = Map.of(
            "hold-release", PauseRelease.KIND.name(),
            "let-go-release", ResumeRelease.KIND.name());

    private EditKinds() {}

    /** Every kind, in the order in which they are described. */
    public static List<EditKind> all() {
        return ALL;
    }

    /** The kind of this name, or of the name that the journal of an earlier version gave it. */
    public static Optional<EditKind> find(String name) {
        return Optional.ofNullable(BY_NAME.get(FORMER_NAMES.getOrDefault(name, name)));
    }

    /** The kind of an edit as it is written; empty for what replaced the whole estate, and what no kind knows. */
    public static Optional<EditKind> find(JsonNode edit) {
        return find(edit.path("kind").asText());
    }

    /**
     * Reads an edit without an estate: whether it fits one is for {@link EditSession#apply} to say. Empty where it is of no kind, or not
     * written as its kind is, be it in a batch; this is reported at its place.
     */
    public static Optional<Edit> read(JsonCursor edit) {
        if (!edit.isObject()) return Optional.empty();
        Optional<JsonCursor> name = edit.required("kind");
        if (name.isEmpty() || name.get().text().isEmpty()) return Optional.empty();
        Optional<EditKind> kind = find(edit.node());
        if (kind.isEmpty()) {
            name.get().defect(UNKNOWN);
            return Optional.empty();
        }
        int found = edit.defects().size();
        Optional<Edit> read = kind.get().read(edit);
        if (read.orElse(null) instanceof BatchEdit)
            for (JsonCursor one : edit.items("edits")) {
                if (find(one.node()).equals(kind))
                    one.defect("is a batch within a batch; put its edits beside the others");
                else read(one);
            }
        return edit.defects().size() > found ? Optional.empty() : read;
    }

    private static Optional<Edit> read(JsonNode edit) {
        return find(edit).flatMap(kind -> kind.read(new JsonCursor(edit, "", new Defects())));
    }

    /**
     * The paths that an edit touches: everything, for one of no kind; nothing, for one that is not written as its kind is, since it cannot
     * be applied.
     */
    public static Set<String> paths(JsonNode edit) {
        if (find(edit).isEmpty()) return Set.of("");
        return read(edit).map(Edit::paths).orElse(Set.of());
    }

    /** Whether two edits that touch the same parts leave the same, whichever comes first. */
    public static boolean commute(JsonNode some, JsonNode other) {
        return find(some).equals(find(other))
                && read(some).flatMap(one -> read(other).map(one::commutes)).orElse(false);
    }

    /** Ids of the accounts whose stored bodies are asked for when an edit is applied. */
    static List<String> accountsAskedFor(JsonNode edit) {
        return read(edit).map(Edit::accountsAskedFor).orElse(List.of());
    }

    /** What is needed in order to publish an edit; for one whose kind is not known, everything. */
    public static Set<Duty> rights(JsonNode edit) {
        if (edit.path("kind").asText().equals(BatchEdit.KIND.name())) {
            Set<Duty> rights = new HashSet<>();
            edit.path("edits").forEach(one -> rights.addAll(rights(one)));
            return rights;
        }
        return find(edit).map(kind -> Set.of(duty(kind, edit))).orElse(Set.of(Duty.values()));
    }

    private static Duty duty(EditKind kind, JsonNode edit) {
        return kind.entityType()
                .filter(type -> kind.type() == UpdateEntity.class)
                .map(type -> type.duty(edit.path("members")))
                .orElse(kind.duty());
    }
}
