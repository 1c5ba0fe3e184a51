package leanladder.advise;

import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import leanladder.catalogue.Need;
import leanladder.catalogue.Setting;
import leanladder.catalogue.Value;
import leanladder.edit.policy.AddPolicy;
import leanladder.edit.policy.PutStatement;
import leanladder.edit.preview.GrantEarlyAccess;
import leanladder.edit.seat.AddPurchase;
import leanladder.edit.seat.AssignSeats;
import leanladder.edit.seat.PutRule;
import leanladder.edit.seat.RemoveRule;
import leanladder.edit.session.BatchEdit;
import leanladder.estate.Account;
import leanladder.estate.Assignment;
import leanladder.estate.Estate;
import leanladder.estate.Hosting;
import leanladder.estate.Plan;
import leanladder.estate.Policy;
import leanladder.estate.Workspace;
import leanladder.json.Json;
import leanladder.resolve.AccountResolver;
import leanladder.resolve.CompiledEstate;
import leanladder.resolve.EvaluationContext;
import leanladder.seat.Allocation;
import leanladder.seat.Entitlements;

/**
 * An edit that may open a closed gate for one account (resolution.md, section 5). Whether it does is found out by carrying it out: a lock,
 * a cap or another gate may be in the way.
 */
public sealed interface GateRemedy {
    /** What stages it. */
    ObjectNode edit();

    /** A seat of a plan, by name. @param bought whether none is free, so that one is bought */
    record Seat(Plan plan, boolean bought, ObjectNode edit) implements GateRemedy {}

    /** A seat that is held is made to carry everything, by a rule that names the account. */
    record AdditionalSeat(Plan plan, ObjectNode edit) implements GateRemedy {}

    /** A component is put back into a rule that leaves it out, for everyone whom the rule names. @param rule its position, from 1 */
    record RestoreComponent(Plan plan, String component, int rule, ObjectNode edit) implements GateRemedy {}

    /** Another setting is set as the gate asks, on the person rung. @param in the policy that says so; a new one where empty */
    record SetPrerequisite(Setting setting, Value value, Optional<Policy> in, ObjectNode edit) implements GateRemedy {}

    /** The release is opened early to the account. @param fresh whether the setting has had no release so far */
    record EarlyAccessRemedy(Setting setting, boolean fresh, ObjectNode edit) implements GateRemedy {}

    /**
     * What a workspace runs on is made as the gate asks.
     *
     * @param on a hosting that others may share, or the workspace's own
     * @param sharing how many workspaces run on it
     * @param grows whether it is too small
     * @param paid whether it stops being a trial
     * @param resumes whether it is paused
     */
    record UpgradeHosting(
            Workspace workspace,
            Hosting on,
            int sharing,
            String size,
            boolean grows,
            boolean paid,
            boolean resumes,
            ObjectNode edit)
            implements GateRemedy {}

    /**
     * What may open a gate of a setting; nothing, where no edit can: kinds and regions stay what they are, and a preview is joined by the
     * person alone. A gate that looks at another setting may stay closed because a gate of that one does: what may open it counts too. A few set
     * operations for each plan and each policy, and a climb for each setting that is looked at.
     *
     * @param accountResolver of the account whose gate it is
     */
    static List<GateRemedy> findAll(
            Need need,
            Setting of,
            CompiledEstate compiledEstate,
            EvaluationContext evaluationContext,
            AccountResolver accountResolver,
            Entitlements seats) {
        Account account = accountResolver.accountReach().account();
        List<GateRemedy> found = new ArrayList<>();
        if (need instanceof Need.Entitlement entitlement) seats(entitlement, compiledEstate, account, seats, found);
        Optional<String> looked = Optional.empty();
        if (need instanceof Need.MinimumSetting other) {
            looked = Optional.of(other.setting());
            turnOn(other.setting(), other.value(), compiledEstate, account, found);
        }
        if (need instanceof Need.ExactSetting exactSetting) {
            looked = Optional.of(exactSetting.setting());
            turnOn(exactSetting.setting(), exactSetting.value(), compiledEstate, account, found);
        }
        looked.flatMap(compiledEstate.estate().catalogue()::setting)
                .ifPresent(setting -> accountResolver.climb(setting).gates().stream()
                        .filter(gate -> !gate.met())
                        .forEach(gate -> found.addAll(findAll(
                                gate.need(), setting, compiledEstate, evaluationContext, accountResolver, seats))));
        if (need instanceof Need.Hosting hosting)
            evaluationContext
                    .workspace()
                    .flatMap(compiledEstate.estate()::workspace)
                    .ifPresent(w -> found.add(host(hosting, compiledEstate, w)));
        if (need instanceof Need.ReleaseNeed) found.add(early(of, compiledEstate, evaluationContext, account));
        if (need instanceof Need.AnyOf anyOf)
            for (Need inner : anyOf.needs())
                found.addAll(findAll(inner, of, compiledEstate, evaluationContext, accountResolver, seats));
        return found;
    }

    private static void seats(
            Need.Entitlement need,
            CompiledEstate compiledEstate,
            Account account,
            Entitlements seats,
            List<GateRemedy> found) {
        int number = compiledEstate.directory().number(account.id());
        for (Allocation allocation : seats.allocations()) {
            Plan plan = allocation.plan();
            Optional<String> component =
                    need.anyOf().stream().filter(plan.components()::contains).findFirst();
            if (component.isEmpty() || !allocation.isInTerm() || !plan.kinds().contains(account.kind())) continue;
            if (allocation.seated().contains(number)) {
                found.add(new AdditionalSeat(plan, give(plan, account)));
                for (int rule : allocation.rulesLeavingOut(component.get(), number))
                    found.add(new RestoreComponent(plan, component.get(), rule, putBack(plan, component.get(), rule)));
            } else {
                boolean full = allocation.seated().getCardinality() >= allocation.seats();
                found.add(new Seat(plan, full, full ? buyAndGive(plan, account) : give(plan, account)));
            }
        }
    }

    private static GateRemedy early(
            Setting setting, CompiledEstate compiledEstate, EvaluationContext evaluationContext, Account account) {
        boolean fresh = compiledEstate.estate().release(setting.key()).isEmpty();
        ObjectNode open = Json.NODES
                .objectNode()
                .put("kind", GrantEarlyAccess.KIND.name())
                .put("release", setting.key())
                .put("to", "account:" + account.id())
                .put("from", evaluationContext.at().toString());
        if (!fresh) return new EarlyAccessRemedy(setting, false, open);
        ObjectNode add = Json.NODES.objectNode().put("kind", "add-release");
        add.putObject("release").put("setting", setting.key()).putObject("opens");
        return new EarlyAccessRemedy(setting, true, batch(add, open));
    }

    private static ObjectNode give(Plan plan, Account account) {
        ObjectNode give = edit(AssignSeats.KIND.name(), plan);
        give.putArray("accounts").add(account.id());
        return give;
    }

    private static ObjectNode edit(String kind, Plan plan) {
        return Json.NODES.objectNode().put("kind", kind).put("plan", plan.id());
    }

    private static ObjectNode batch(ObjectNode... edits) {
        ObjectNode batch = Json.NODES.objectNode().put("kind", BatchEdit.KIND.name());
        ArrayNode all = batch.putArray("edits");
        for (ObjectNode edit : edits) all.add(edit);
        return batch;
    }

    private static ObjectNode buyAndGive(Plan plan, Account account) {
        ObjectNode buy = edit(AddPurchase.KIND.name(), plan);
        buy.putObject("purchase").put("seats", 1);
        return batch(buy, give(plan, account));
    }

    private static ObjectNode putBack(Plan plan, String component, int rule) {
        var written = plan.source().path("rules");
        ObjectNode was = (ObjectNode) written.get(rule - 1);
        ObjectNode is = was.deepCopy();
        ArrayNode off = is.putArray("off");
        was.path("off").forEach(o -> {
            if (!o.asText().equals(component)) off.add(o);
        });
        ObjectNode remove = edit(RemoveRule.KIND.name(), plan);
        remove.set("rule", was);
        ObjectNode put = edit(PutRule.KIND.name(), plan);
        put.set("rule", is);
        if (written.has(rule)) put.set("above", written.get(rule));
        return batch(remove, put);
    }

    private static void turnOn(
            String key, Value value, CompiledEstate compiledEstate, Account account, List<GateRemedy> found) {
        Setting setting = compiledEstate.estate().catalogue().setting(key).orElseThrow();
        ObjectNode statement = Json.NODES.objectNode().put("setting", key);
        statement.set("set", value.json());
        String target = "account:" + account.id();
        for (Policy policy : compiledEstate.estate().policies()) {
            List<String> named = policy.assignments().stream()
                    .filter(Assignment::include)
                    .map(a -> a.in().isEmpty() ? a.target().text() : "")
                    .toList();
            if (!policy.live() || !named.equals(List.of(target))) continue;
            ObjectNode put = Json.NODES
                    .objectNode()
                    .put("kind", PutStatement.KIND.name())
                    .put("policy", policy.id());
            put.set("statement", statement);
            found.add(new SetPrerequisite(setting, value, Optional.of(policy), put));
        }
        ObjectNode add = Json.NODES.objectNode().put("kind", AddPolicy.KIND.name());
        ObjectNode policy = add.putObject("policy").put("name", setting.title() + " for " + account.displayName());
        policy.putArray("statements").add(statement);
        policy.putArray("assignments").addObject().put("include", target);
        found.add(new SetPrerequisite(setting, value, Optional.empty(), add));
    }

    private static GateRemedy host(Need.Hosting need, CompiledEstate compiledEstate, Workspace workspace) {
        Estate estate = compiledEstate.estate();
        Hosting on = estate.hostingOf(workspace);
        List<String> sizes = estate.catalogue().sizes();
        boolean grows = sizes.indexOf(on.size()) < sizes.indexOf(need.size());
        boolean paid = on.trial() && !need.allowTrial();
        boolean shared = workspace.hosting().isPresent();
        ObjectNode edit = Json.NODES
                .objectNode()
                .put("kind", shared ? "amend-hosting" : "amend-workspace")
                .put(shared ? "hosting" : "workspace", on.id());
        ObjectNode members = edit.putObject("members");
        if (grows) members.put("size", need.size());
        if (paid) members.put("trial", false);
        if (!on.running()) members.put("state", "running");
        int sharing = (int) estate.workspaces().stream()
                .filter(w -> shared && w.hosting().equals(workspace.hosting()))
                .count();
        return new UpgradeHosting(workspace, on, sharing, need.size(), grows, paid, !on.running(), edit);
    }
}
