package leanladder.edit;

import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.Optional;
import leanladder.json.Json;
import leanladder.json.JsonCursor;
import leanladder.workingcopy.Duty;
import leanladder.workingcopy.EntityType;
import leanladder.workingcopy.Overlay;
import org.jspecify.annotations.Nullable;

/** A kind of edit: its name, what is needed to publish it, and the record that its edits are read into. */
public final class EditKind {
    private final String name;
    private final Duty duty;
    private final String description;
    private final Class<? extends Edit> type;
    private final @Nullable EntityType<?> entityType;
    private final EditForm form;

    private EditKind(
            String name,
            Duty duty,
            String description,
            Class<? extends Edit> type,
            @Nullable EntityType<?> entityType) {
        this.name = name;
        this.duty = duty;
        this.description = description;
        this.type = type;
        this.entityType = entityType;
        this.form = new EditForm(type, entityType);
    }

    /**
     * Describes a kind.
     *
     * @param name what stands in the member {@code kind}
     * @param duty what is needed in order to publish it
     * @param description one sentence for the interface's description
     */
    public static EditKind of(String name, Duty duty, Class<? extends Edit> type, String description) {
        return new EditKind(name, duty, description, type, null);
    }

    /** Describes a kind whose edits are about entities of one type. */
    public static EditKind of(
            String name, Duty duty, Class<? extends Edit> type, EntityType<?> entityType, String description) {
        return new EditKind(name, duty, description, type, entityType);
    }

    /** What stands in the member {@code kind} of an edit. */
    public String name() {
        return name;
    }

    /** What is needed in order to publish it. */
    public Duty duty() {
        return duty;
    }

    /** The record that its edits are read into. */
    public Class<? extends Edit> type() {
        return type;
    }

    /** The type of entity that its edits are about, where there are such kinds for several types. */
    public Optional<EntityType<?>> entityType() {
        return Optional.ofNullable(entityType);
    }

    /** Reads an edit without an estate; empty where it is not written as this kind is, which is reported at its place. */
    public Optional<Edit> read(JsonCursor edit) {
        return form.read(edit);
    }

    /** Whether everything that an edit names exists now; what does not is reported at its place. */
    public boolean checkNames(JsonCursor edit, Overlay on) {
        return form.checkNames(edit, on);
    }

    /** An edit as the journal keeps it: as it was sent, with the ids that were given since. */
    public ObjectNode write(Edit edit, ObjectNode sent) {
        return form.write(edit, sent);
    }

    /** The JSON Schema of an edit of this kind; it may refer to the components of the interface's description. */
    public ObjectNode schema() {
        ObjectNode schema = Json.NODES.objectNode().put("type", "object").put("description", description);
        ArrayNode required = schema.putArray("required").add("kind");
        form.required().forEach(required::add);
        ObjectNode properties = schema.putObject("properties");
        properties.putObject("kind").put("const", name);
        properties.setAll(form.properties());
        return schema;
    }

    @Override
    public String toString() {
        return name;
    }
}
