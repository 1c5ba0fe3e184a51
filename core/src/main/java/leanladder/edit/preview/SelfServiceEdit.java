package leanladder.edit.preview;

import com.fasterxml.jackson.databind.JsonNode;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import leanladder.edit.ConflictPaths;
import leanladder.edit.Edit;
import leanladder.json.JsonCursor;
import leanladder.workingcopy.EntityType;
import leanladder.workingcopy.Overlay;
import org.jspecify.annotations.Nullable;

/** An edit of a list of an account whose items name a ring or a release: its consents, or its invitations. */
public interface SelfServiceEdit extends Edit {
    /** The id of the account. */
    String account();

    /** The id of the ring, where it is about one. */
    @Nullable
    String ring();

    /** The key of the released setting, where it is about one. */
    @Nullable
    String release();

    /** The member of the account that holds the list. */
    String list();

    /**
     * The preview that an edit is about.
     *
     * @param to the member that names it, {@code ring} or {@code release}
     * @param what the id of the ring, or the key of the released setting
     */
    record Preview(String to, String what) {
        /** Whether an item of the list is about it. */
        boolean isOf(JsonNode item) {
            return item.path(to).asText().equals(what);
        }
    }

    /** The preview that the edit is about; empty where it names none, or two. */
    default Optional<Preview> preview() {
        String ring = ring();
        String release = release();
        if (ring != null) return release != null ? Optional.empty() : Optional.of(new Preview("ring", ring));
        return Optional.ofNullable(release).map(key -> new Preview("release", key));
    }

    /** The list as it is stored: with what is told beside what decides. */
    default JsonNode items(Overlay on) {
        return on.wholeBody(EntityType.ACCOUNT, account()).path(list());
    }

    /** The preview that an edit is about; a defect where it names none, or two. */
    default Optional<Preview> preview(JsonCursor at) {
        Optional<Preview> preview = preview();
        if (preview.isEmpty()) at.defect("must name either a ring or a release");
        return preview;
    }

    @Override
    default Set<String> paths() {
        return Set.of(ConflictPaths.of("accounts", account(), list()));
    }

    @Override
    default List<String> accountsAskedFor() {
        return List.of(account());
    }
}
