package leanladder.edit;

import com.fasterxml.jackson.databind.JsonNode;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import leanladder.json.Json;
import leanladder.json.JsonCursor;
import leanladder.workingcopy.Duty;
import leanladder.workingcopy.Overlay;
import org.jspecify.annotations.Nullable;

/**
 * A kind of edit: how it is written, read, and held against others. What is asked here needs no estate, for the journal speaks
 * of what may be no more.
 */
public abstract class EditKind {
    private final String name;
    private final Duty duty;
    private @Nullable List<String> required;

    /**
     * Describes a kind.
     *
     * @param name what stands in the member {@code kind}
     * @param right what is needed in order to publish it
     */
    protected EditKind(String name, Duty duty) {
        this.name = name;
        this.duty = duty;
    }

    /** What stands in the member {@code kind} of an edit. */
    public final String name() {
        return name;
    }

    /** What is needed in order to publish it. */
    public final Duty duty() {
        return duty;
    }

    /** Reads an edit against the estate as it stands; empty when it does not fit, which is then reported at its place. */
    public abstract Optional<? extends Edit> read(JsonCursor jsonCursor, Overlay on);

    /**
     * The parts of the estate that an edit touches, as paths (see {@link ConflictPaths}). Two edits get into each other's way when a path
     * of one is, or leads to, a path of the other.
     */
    public abstract Set<String> paths(JsonNode edit);

    /** Ids of the accounts whose stored bodies are asked for when an edit is read; those of many edits are fetched together. */
    public List<String> accountsAskedFor(JsonNode edit) {
        return List.of();
    }

    /** Whether two edits of this kind that touch the same parts leave the same in either order. */
    public boolean commutes(JsonNode mine, JsonNode theirs) {
        return false;
    }

    /** The JSON Schema of an edit of this kind, as JSON text; it may refer to the components of the interface's description. */
    public abstract String schema();

    /** The members that every edit of this kind has, by its schema, {@code kind} among them. */
    public final synchronized List<String> requiredMembers() {
        if (required == null) {
            List<String> members = new ArrayList<>();
            Json.read(schema()).path("required").forEach(m -> members.add(m.asText()));
            required = List.copyOf(members);
        }
        return required;
    }

    /** The schema of an object with these members beside {@code kind}. */
    protected final String schema(String description, String required, String properties) {
        return "{\"type\":\"object\",\"description\":\"" + description + "\",\"required\":[\"kind\"," + required
                + "],\"properties\":{\"kind\":{\"const\":\"" + name + "\"}," + properties + "}}";
    }

    @Override
    public final String toString() {
        return name;
    }
}
