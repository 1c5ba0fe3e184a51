package leanladder.workingcopy;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import leanladder.estate.Estate;
import leanladder.estate.read.Section;
import leanladder.json.JsonCursor;

/** A type of part: all that its edits must know of units, accounts, groups, workspaces, hostings, licence plans, settings, releases or feedback. */
public abstract class EntityType<T> {
    /** Units. */
    public static final EntityType<leanladder.estate.Unit> UNIT = new UnitEntityType();

    /** Accounts. */
    public static final EntityType<leanladder.estate.Account> ACCOUNT = new AccountEntityType();

    /** Groups; their members are edited apart. */
    public static final EntityType<leanladder.estate.Group> GROUP = new GroupEntityType();

    /** Workspaces. */
    public static final EntityType<leanladder.estate.Workspace> WORKSPACE = new WorkspaceEntityType();

    /** Hostings. */
    public static final EntityType<leanladder.estate.Hosting> HOSTING = new HostingEntityType();

    /** Licence plans; what is bought, and their rules, can be edited apart as well. */
    public static final EntityType<leanladder.estate.Plan> PLAN = new PlanEntityType();

    /** Settings of the catalogue. */
    public static final EntityType<leanladder.catalogue.Setting> SETTING = new SettingEntityType();

    /** Releases, each told from others by its setting; what opens when is edited apart. */
    public static final EntityType<leanladder.estate.Release> RELEASE = new ReleaseEntityType();

    /** What people found of releases. */
    public static final EntityType<leanladder.estate.Feedback> FEEDBACK = new FeedbackEntityType();

    /** All of them. */
    public static final List<EntityType<?>> ALL =
            List.of(UNIT, ACCOUNT, GROUP, HOSTING, WORKSPACE, PLAN, SETTING, RELEASE, FEEDBACK);

    private final String noun;
    private final Section section;
    private final Set<String> amendable;
    private final Duty duty;

    EntityType(String noun, Section section, Set<String> amendable) {
        this(noun, section, amendable, Duty.DIRECTORY);
    }

    EntityType(String noun, Section section, Set<String> amendable, Duty duty) {
        this.noun = noun;
        this.section = section;
        this.amendable = amendable;
        this.duty = duty;
    }

    /** What is needed in order to publish edits of parts of this type. */
    public final Duty duty() {
        return duty;
    }

    /** What is needed in order to publish an edit that sets these members of a part. */
    public Duty duty(JsonNode members) {
        return duty;
    }

    /** The type whose parts a section of the estate file holds, where it has edits. */
    public static Optional<EntityType<?>> of(Section section) {
        return ALL.stream().filter(t -> t.section == section).findFirst();
    }

    /**
     * The type of this noun.
     *
     * @throws java.util.NoSuchElementException where there is none
     */
    public static EntityType<?> of(String noun) {
        return ALL.stream().filter(type -> type.noun.equals(noun)).findFirst().orElseThrow();
    }

    /** The member of an edit that names a part: unit, account or group. */
    public final String noun() {
        return noun;
    }

    public final Section section() {
        return section;
    }

    /** The members that can be amended. */
    public final Set<String> amendable() {
        return amendable;
    }

    /** Whether a member can be amended. */
    public boolean isAmendable(String member) {
        return amendable.contains(member);
    }

    /** The part of this id in an estate. */
    public abstract Optional<T> find(Estate estate, String id);

    /** Reads a part; what does not fit is reported. */
    public abstract Optional<T> read(JsonCursor jsonCursor, Overlay on);

    /** What it is called. */
    public abstract String name(T part);

    /** The text of a new part's body from which an id is made. */
    public String idWords(ObjectNode body) {
        return body.path("name").asText("");
    }

    /** A part as far as checking needs it, as the estate file writes it, without asking for the stored body. */
    public abstract ObjectNode shortBody(T part);

    /** Reads a part as it would be and checks what it names. */
    public abstract void check(JsonCursor whole, Overlay on);

    /** Checks what only a new part must have. */
    public void checkNew(JsonCursor named, ObjectNode body, Overlay on) {}

    /**
     * Checks what only matters where a part was something else before.
     *
     * @param amended the part as it would be
     * @param members the edit's members
     */
    public void checkAmended(String id, ObjectNode amended, JsonCursor members, Overlay on) {}

    /**
     * What is set of an entity, completed by what follows from it and from how the entity stands.
     *
     * @param members those of an edit; not to be changed
     * @param place of the edit's members, where what does not fit is reported
     */
    public ObjectNode complete(String id, ObjectNode members, JsonCursor place, Overlay on) {
        return members;
    }

    /** The members that an edit of some members touches: these, and what they settle besides. */
    public Set<String> touchedBy(Set<String> members) {
        return members;
    }

    /** Why it cannot be taken away whoever uses it. */
    public Optional<String> whyNotRemoved(String id, Overlay on) {
        return Optional.empty();
    }

    /** What else could be done than to take it away, as the end of a sentence. */
    public String insteadOfRemoval() {
        return "Take it out there first";
    }

    /** What an edit of a part touches. @param members what is amended; empty where the part comes or goes */
    public abstract WriteSet footprint(String id, Optional<ObjectNode> members, Overlay before);

    static void notBlank(JsonCursor whole, String member) {
        whole.member(member)
                .filter(p -> p.node().isTextual() && p.node().textValue().isBlank())
                .ifPresent(p -> p.defect("must not be empty"));
    }

    static void unknown(JsonCursor jsonCursor, String what, String id) {
        jsonCursor.defect("names the " + what + " \"" + id + "\", which does not exist (any more)");
    }
}
