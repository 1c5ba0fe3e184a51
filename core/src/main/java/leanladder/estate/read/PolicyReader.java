package leanladder.estate.read;

import com.fasterxml.jackson.databind.node.ObjectNode;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import leanladder.catalogue.Setting;
import leanladder.catalogue.Value;
import leanladder.estate.Assignment;
import leanladder.estate.Policy;
import leanladder.estate.Statement;
import leanladder.estate.Target;
import leanladder.estate.TimeWindow;
import leanladder.json.JsonCursor;

/**
 * Reads policies, their statements and assignments, and what else is written like an assignment: licence rules. Works on a
 * whole file and on a single edit alike.
 */
public final class PolicyReader {
    private static final Map<String, Boolean> STATES = Map.of("live", true, "paused", false);

    private final Function<String, Optional<Setting>> settings;
    private final References known;

    /**
     * @param settings finds a setting by key
     * @param known answers which ids exist
     */
    public PolicyReader(Function<String, Optional<Setting>> settings, References known) {
        this.settings = settings;
        this.known = known;
    }

    /** A policy; what does not fit is reported and left out. */
    public Optional<Policy> policy(JsonCursor jsonCursor) {
        if (!jsonCursor.isObject()) return Optional.empty();
        Optional<String> id = jsonCursor.required("id").flatMap(JsonCursor::id);
        Optional<String> name = jsonCursor.required("name").flatMap(JsonCursor::text);
        jsonCursor.member("description").ifPresent(JsonCursor::text);
        boolean live = jsonCursor.member("state").flatMap(p -> p.word(STATES)).orElse(true);
        List<Statement> statements = new ArrayList<>();
        Set<String> spoken = new HashSet<>();
        for (JsonCursor item : jsonCursor.items("statements")) {
            said(item)
                    .filter(said -> !spoken.add(said))
                    .ifPresent(said -> item.defect("is a second " + said.substring(0, 3)
                            + " on this setting in one policy; keep one of them"));
            statement(item).ifPresent(statements::add);
        }
        List<Assignment> assignments = new ArrayList<>();
        for (JsonCursor item : jsonCursor.items("assignments"))
            assignment(item, true).ifPresent(assignments::add);
        return id.map(
                i -> new Policy(i, name.orElse(""), live, statements, assignments, (ObjectNode) jsonCursor.node()));
    }

    private static Optional<String> said(JsonCursor statement) {
        var node = statement.node();
        if (!node.path("setting").isTextual() || node.has("set") == node.has("cap")) return Optional.empty();
        return Optional.of(
                (node.has("set") ? "set " : "cap ") + node.get("setting").textValue());
    }

    /** A statement: one set or one cap on one setting. */
    public Optional<Statement> statement(JsonCursor jsonCursor) {
        if (!jsonCursor.isObject()) return Optional.empty();
        Optional<JsonCursor> named = jsonCursor.required("setting");
        Optional<String> key = named.flatMap(JsonCursor::key);
        Optional<JsonCursor> set = jsonCursor.member("set");
        Optional<JsonCursor> cap = jsonCursor.member("cap");
        Optional<Boolean> lock = jsonCursor.member("lock").flatMap(JsonCursor::bool);
        if (set.isPresent() == cap.isPresent()) jsonCursor.defect("must say either \"set\" or \"cap\"");
        if (cap.isPresent() && set.isEmpty() && lock.orElse(false))
            jsonCursor.member("lock").orElseThrow().defect("fits only a set; a cap binds whatever locks there are");
        if (key.isEmpty()) return Optional.empty();
        Optional<Setting> setting = settings.apply(key.get());
        if (setting.isEmpty()) {
            if (!known.hasSetting(key.get()))
                named.get().defect("names the setting \"" + key.get() + "\", which the catalogue does not list");
            return Optional.empty();
        }
        if (cap.isPresent() && setting.get().strictness().isEmpty())
            cap.get().defect("fits only an ordered setting, and \"" + key.get() + "\" is not ordered");
        Optional<Value> setValue = set.flatMap(p -> setting.get().type().read(p.node(), p::defect));
        Optional<Value> capValue = cap.flatMap(p -> setting.get().type().read(p.node(), p::defect));
        set.or(() -> cap).ifPresent(p -> ValueReferences.check(p, setting.get().type(), known));
        // The catalogue's own key, so that thousands of statements share it.
        String shared = setting.get().key();
        if (setValue.isPresent()) return setValue.map(v -> new Statement.Set(shared, v, lock.orElse(false)));
        return capValue.map(v -> new Statement.Cap(shared, v));
    }

    /**
     * An assignment.
     *
     * @param ofPolicy whether it may name workspaces, as a policy's may and a licence rule's may not
     */
    public Optional<Assignment> assignment(JsonCursor jsonCursor, boolean ofPolicy) {
        if (!jsonCursor.isObject()) return Optional.empty();
        Optional<JsonCursor> include = jsonCursor.member("include");
        Optional<JsonCursor> except = jsonCursor.member("except");
        if (include.isPresent() == except.isPresent()) {
            jsonCursor.defect("must say either \"include\" or \"except\"");
            include.ifPresent(p -> target(p, ofPolicy));
            except.ifPresent(p -> target(p, ofPolicy));
            jsonCursor.member("in").ifPresent(this::place);
            window(jsonCursor, "from", "until");
            return Optional.empty();
        }
        JsonCursor named = include.or(() -> except).orElseThrow();
        Optional<Target> target = target(named, ofPolicy);
        TimeWindow timeWindow = window(jsonCursor, "from", "until");
        Optional<JsonCursor> in = jsonCursor.member("in");
        Optional<Target> place = in.flatMap(this::place);
        if (in.isPresent() && except.isPresent())
            in.get().defect("fits only an include; an exception holds everywhere");
        else if (in.isPresent() && !ofPolicy) in.get().defect("does not belong to a rule of a licence plan");
        else if (in.isPresent() && target.filter(Target::isPlace).isPresent())
            in.get().defect("must not stand beside a workspace or a hosting as the target");
        if (except.isPresent() && target.isPresent()) checkException(named, target.get());
        return target.map(t -> new Assignment(include.isPresent(), t, place, timeWindow));
    }

    private void checkException(JsonCursor jsonCursor, Target target) {
        boolean root = target instanceof Target.OrganisationTarget
                || target instanceof Target.UnitTarget unit && known.isRootUnit(unit.id());
        if (root) jsonCursor.defect("must not except the whole organisation; pause the policy instead");
        if (target.isPlace())
            jsonCursor.defect("must not except a workspace or a hosting; leave it out of the includes instead");
    }

    /** The stretch of time between two members of an object. */
    static TimeWindow window(JsonCursor jsonCursor, String from, String until) {
        Optional<Instant> start = jsonCursor.member(from).flatMap(JsonCursor::instant);
        Optional<Instant> end = jsonCursor.member(until).flatMap(JsonCursor::instant);
        if (start.isPresent() && end.isPresent() && !end.get().isAfter(start.get()))
            jsonCursor.member(until).orElseThrow().defect("must come after \"" + from + "\"");
        return new TimeWindow(start, end);
    }

    /** A target that exists and can be aimed at. */
    public Optional<Target> target(JsonCursor jsonCursor, boolean workspaces) {
        Optional<String> text = jsonCursor.text();
        Optional<Target> target = text.flatMap(Target::parse);
        if (text.isPresent() && target.isEmpty())
            jsonCursor.defect(
                    "must be organisation, unit:ID, group:ID, account:ID, workspace:ID or hosting:ID, but is \""
                            + text.get() + "\"");
        target.ifPresent(t -> checkTarget(jsonCursor, t, workspaces));
        return target;
    }

    /** The place to which an include is limited, which exists. */
    private Optional<Target> place(JsonCursor jsonCursor) {
        Optional<String> text = jsonCursor.text();
        Optional<Target> place = text.flatMap(Target::parse).filter(Target::isPlace);
        if (text.isPresent() && place.isEmpty())
            jsonCursor.defect("must be workspace:ID or hosting:ID, but is \"" + text.get() + "\"");
        place.ifPresent(p -> checkTarget(jsonCursor, p, true));
        return place;
    }

    private void checkTarget(JsonCursor jsonCursor, Target target, boolean workspaces) {
        if (target instanceof Target.UnitTarget unit && !known.hasUnit(unit.id()))
            unknown(jsonCursor, "unit", unit.id());
        if (target instanceof Target.AccountTarget account && !known.hasAccount(account.id()))
            unknown(jsonCursor, "account", account.id());
        if (target instanceof Target.GroupTarget group) {
            Optional<Boolean> access = known.isAccessGroup(group.id());
            if (access.isEmpty()) unknown(jsonCursor, "group", group.id());
            else if (!access.get())
                jsonCursor.defect("names a mailing group, \"" + group.id()
                        + "\", which cannot be aimed at; use an access group that has it as a member");
        }
        if (target.isPlace() && !workspaces) jsonCursor.defect("must not be a workspace or a hosting");
        else if (target instanceof Target.WorkspaceTarget workspace && !known.hasWorkspace(workspace.id()))
            unknown(jsonCursor, "workspace", workspace.id());
        else if (target instanceof Target.HostingTarget hosting && !known.hasHosting(hosting.id()))
            unknown(jsonCursor, "hosting", hosting.id());
    }

    private static void unknown(JsonCursor jsonCursor, String what, String id) {
        jsonCursor.defect("names the " + what + " \"" + id + "\", which does not exist");
    }
}
