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
import leanladder.document.Place;
import leanladder.estate.Assignment;
import leanladder.estate.Policy;
import leanladder.estate.Statement;
import leanladder.estate.Target;
import leanladder.estate.Window;

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
    public Optional<Policy> policy(Place place) {
        if (!place.isObject()) return Optional.empty();
        Optional<String> id = place.required("id").flatMap(Place::id);
        Optional<String> name = place.required("name").flatMap(Place::text);
        place.member("description").ifPresent(Place::text);
        boolean live = place.member("state").flatMap(p -> p.word(STATES)).orElse(true);
        List<Statement> statements = new ArrayList<>();
        Set<String> spoken = new HashSet<>();
        for (Place item : place.items("statements")) {
            said(item)
                    .filter(said -> !spoken.add(said))
                    .ifPresent(said -> item.defect("is a second " + said.substring(0, 3)
                            + " on this setting in one policy; keep one of them"));
            statement(item).ifPresent(statements::add);
        }
        List<Assignment> assignments = new ArrayList<>();
        for (Place item : place.items("assignments")) assignment(item, true).ifPresent(assignments::add);
        return id.map(i -> new Policy(i, name.orElse(""), live, statements, assignments, (ObjectNode) place.node()));
    }

    private static Optional<String> said(Place statement) {
        var node = statement.node();
        if (!node.path("setting").isTextual() || node.has("set") == node.has("cap")) return Optional.empty();
        return Optional.of(
                (node.has("set") ? "set " : "cap ") + node.get("setting").textValue());
    }

    /** A statement: one set or one cap on one setting. */
    public Optional<Statement> statement(Place place) {
        if (!place.isObject()) return Optional.empty();
        Optional<Place> named = place.required("setting");
        Optional<String> key = named.flatMap(Place::key);
        Optional<Place> set = place.member("set");
        Optional<Place> cap = place.member("cap");
        Optional<Boolean> lock = place.member("lock").flatMap(Place::bool);
        if (set.isPresent() == cap.isPresent()) place.defect("must say either \"set\" or \"cap\"");
        if (cap.isPresent() && set.isEmpty() && lock.orElse(false))
            place.member("lock").orElseThrow().defect("fits only a set; a cap binds whatever locks there are");
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
    public Optional<Assignment> assignment(Place place, boolean ofPolicy) {
        if (!place.isObject()) return Optional.empty();
        Optional<Place> include = place.member("include");
        Optional<Place> except = place.member("except");
        if (include.isPresent() == except.isPresent()) {
            place.defect("must say either \"include\" or \"except\"");
            include.ifPresent(p -> target(p, ofPolicy));
            except.ifPresent(p -> target(p, ofPolicy));
            window(place, "from", "until");
            return Optional.empty();
        }
        Place named = include.or(() -> except).orElseThrow();
        Optional<Target> target = target(named, ofPolicy);
        Window window = window(place, "from", "until");
        if (except.isPresent() && target.isPresent()) checkException(named, target.get());
        return target.map(t -> new Assignment(include.isPresent(), t, window));
    }

    private void checkException(Place place, Target target) {
        boolean root =
                target instanceof Target.Whole || target instanceof Target.OfUnit unit && known.isRootUnit(unit.id());
        if (root) place.defect("must not except the whole organisation; pause the policy instead");
        if (target instanceof Target.OfWorkspace)
            place.defect("must not except a workspace; leave it out of the includes instead");
    }

    /** The stretch of time between two members of an object. */
    static Window window(Place place, String from, String until) {
        Optional<Instant> start = place.member(from).flatMap(Place::instant);
        Optional<Instant> end = place.member(until).flatMap(Place::instant);
        if (start.isPresent() && end.isPresent() && !end.get().isAfter(start.get()))
            place.member(until).orElseThrow().defect("must come after \"" + from + "\"");
        return new Window(start, end);
    }

    /** A target that exists and can be aimed at. */
    public Optional<Target> target(Place place, boolean workspaces) {
        Optional<String> text = place.text();
        Optional<Target> target = text.flatMap(Target::of);
        if (text.isPresent() && target.isEmpty())
            place.defect("must be organisation, unit:ID, group:ID, account:ID or workspace:ID, but is \"" + text.get()
                    + "\"");
        target.ifPresent(t -> checkTarget(place, t, workspaces));
        return target;
    }

    private void checkTarget(Place place, Target target, boolean workspaces) {
        if (target instanceof Target.OfUnit unit && !known.hasUnit(unit.id())) unknown(place, "unit", unit.id());
        if (target instanceof Target.OfAccount account && !known.hasAccount(account.id()))
            unknown(place, "account", account.id());
        if (target instanceof Target.OfGroup group) {
            Optional<Boolean> access = known.isAccessGroup(group.id());
            if (access.isEmpty()) unknown(place, "group", group.id());
            else if (!access.get())
                place.defect("names a mailing group, \"" + group.id()
                        + "\", which cannot be aimed at; use an access group that has it as a member");
        }
        if (target instanceof Target.OfWorkspace workspace) {
            if (!workspaces) place.defect("must not be a workspace");
            else if (!known.hasWorkspace(workspace.id())) unknown(place, "workspace", workspace.id());
        }
    }

    private static void unknown(Place place, String what, String id) {
        place.defect("names the " + what + " \"" + id + "\", which does not exist");
    }
}
