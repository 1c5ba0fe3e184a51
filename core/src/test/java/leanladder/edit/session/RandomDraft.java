package leanladder.edit.session;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Random;
import java.util.function.Function;
import leanladder.RandomEstate;
import leanladder.catalogue.Default;
import leanladder.catalogue.Setting;
import leanladder.estate.Account;
import leanladder.estate.Estate;
import leanladder.estate.Group;
import leanladder.estate.Hosting;
import leanladder.estate.Plan;
import leanladder.estate.Policy;
import leanladder.estate.Unit;
import leanladder.estate.Workspace;
import leanladder.json.Json;
import leanladder.resolve.CompiledEstate;

/**
 * Makes the edits of a draft one after the other. Each may name what the edits before it created, and does so more often than not. Not
 * every edit fits.
 */
public final class RandomDraft {
    private static final String NEW = "new.";

    private final CompiledEstate base;
    private final Random random;
    private int created;
    private int left = 60;

    public RandomDraft(CompiledEstate base, long seed) {
        this.base = base;
        this.random = new Random(seed);
    }

    /** Whether there is another edit: a draft of which nearly none fits ends. */
    public boolean isGoingOn() {
        return left > 0;
    }

    /** The next edit, or a batch of edits, of an estate as the edits before it left it. */
    public String next(CompiledEstate now) {
        left--;
        if (random.nextInt(12) > 0) return edit(now);
        return "{\"kind\":\"batch\",\"edits\":[" + edit(now) + "," + edit(now) + "]}";
    }

    private String edit(CompiledEstate now) {
        if (random.nextInt(4) == 0) {
            List<String> others = RandomEdits.all(now, random, 1);
            if (others.isEmpty()) return edit(now);
            return others.get(random.nextInt(others.size()));
        }
        String form = composed(now.estate());
        return form.replace('\'', '"');
    }

    private String composed(Estate now) {
        String unit = pick(now.units(), Unit::id, id -> base.estate().unit(id).isPresent());
        String account = pick(
                now.accounts(), Account::id, id -> base.estate().account(id).isPresent());
        String group =
                pick(now.groups(), Group::id, id -> base.estate().group(id).isPresent());
        String other =
                pick(now.groups(), Group::id, id -> base.estate().group(id).isPresent());
        String policy =
                pick(now.policies(), Policy::id, id -> base.estate().policy(id).isPresent());
        String plan =
                pick(now.plans(), Plan::id, id -> base.estate().plans().stream().anyMatch(p -> p.id().equals(id)));
        String workspace = pick(
                now.workspaces(),
                Workspace::id,
                id -> base.estate().workspace(id).isPresent());
        String setting =
                pick(List.copyOf(now.catalogue().settings().values()), Setting::key, key -> !key.startsWith(NEW));
        Setting model = one(List.copyOf(now.catalogue().settings().values()));
        String ring = now.rings().isEmpty() ? "none" : one(now.rings()).id();
        String target = one(List.of("unit:" + unit, "account:" + account, "group:" + group, "organisation"));
        String hosting = pick(
                now.hostings(), Hosting::id, id -> base.estate().hosting(id).isPresent());
        String place = one(List.of("workspace:" + workspace, "hosting:" + hosting));
        String include = random.nextInt(4) == 0 ? place : random.nextInt(4) == 0 ? target + "','in':'" + place : target;
        String rule = RandomEdits.rule(unit, other, random);
        String then =
                RandomEstate.NOW.plusSeconds((random.nextInt(9) - 4) * 1800L).toString();
        String window = random.nextInt(3) == 0 ? ",'" + one(List.of("from", "until")) + "':'" + then + "'" : "";
        String id = "n" + created++;
        List<String> forms = new ArrayList<>(List.of(
                "{'kind':'add-unit','unit':{'id':'" + id + "','name':'Unit','parent':'" + unit + "'}}",
                account(id, unit),
                account(id, unit),
                "{'kind':'add-group','group':{'id':'" + id + "','name':'Group','purpose':'access','members':['account:"
                        + account + "']}}",
                "{'kind':'add-group','group':{'id':'" + id
                        + "','name':'Group','purpose':'mailing','members':['group:" + group + "','account:" + account
                        + "']}}",
                "{'kind':'add-policy','policy':{'id':'" + id + "','name':'Policy','statements':" + statements(now)
                        + ",'assignments':[{'include':'" + include + "'" + window + "}]}}",
                "{'kind':'put-statement','policy':'" + policy + "','statement':" + statement(now) + "}",
                "{'kind':'put-assignment','policy':'" + policy + "','assignment':{'include':'" + include + "'" + window
                        + "}}",
                "{'kind':'put-assignment','policy':'" + policy + "','assignment':{'except':'" + target + "'" + window
                        + "}}",
                "{'kind':'add-plan','plan':{'id':'" + id + "','name':'Plan','seats':2,'components':['"
                        + one(List.of("chat", "assistant", "video")) + "'],'rules':[{'include':'" + target + "'}]}}",
                "{'kind':'put-rule','plan':'" + plan + "','rule':{'include':'" + target + "'" + window + "}}",
                "{'kind':'put-rule','plan':'" + plan + "','rule':{'except':'" + target + "'" + window + "}}",
                "{'kind':'give-seats','plan':'" + plan + "','accounts':['" + account + "']}",
                "{'kind':'take-seats','plan':'" + plan + "','accounts':['" + account + "']}",
                "{'kind':'buy-seats','plan':'" + plan + "','purchase':{'seats':1,'from':'" + then + "'}}",
                "{'kind':'return-seats','plan':'" + plan + "','seats':1,'from':'" + then + "'}",
                "{'kind':'add-workspace','workspace':{'id':'" + id + "','name':'Workspace','size':'S','members':['"
                        + one(List.of("account:" + account, "group:" + group)) + "']}}",
                "{'kind':'amend-workspace','workspace':'" + workspace + "','members':{'size':'L'}}",
                "{'kind':'add-hosting','hosting':{'id':'" + id + "','name':'Hosting','size':'S','keepers':['" + account
                        + "']}}",
                "{'kind':'add-workspace','workspace':{'id':'" + id + "','name':'Workspace','hosting':'" + hosting
                        + "','stewards':['" + account + "'],'members':['group:" + group + "']}}",
                "{'kind':'amend-workspace','workspace':'" + workspace + "','members':{'hosting':'" + hosting + "'}}",
                "{'kind':'amend-hosting','hosting':'" + hosting + "','members':{'size':'L','state':'"
                        + one(List.of("paused", "running")) + "'}}",
                "{'kind':'remove-hosting','hosting':'" + hosting + "'}",
                "{'kind':'add-group','group':{'id':'" + id + "','name':'By rule','purpose':'access','rule':'" + rule
                        + "'}}",
                "{'kind':'amend-group','group':'" + group + "','members':{'rule':'" + rule + "'}}",
                "{'kind':'amend-account','account':'" + account + "','members':{'attributes':{'title':'"
                        + one(List.of("bosun", "Cook"))
                        + "'},'devices':[{'id':'d','kind':'desk','apps':{'mail':'2'}}]}}",
                "{'kind':'remove-workspace','workspace':'" + workspace + "'}",
                "{'kind':'add-release','release':{'setting':'" + setting + "','opens':{'" + ring + "':'" + then
                        + "'}}}",
                "{'kind':'open-early','release':'" + setting + "','to':'" + target + "','from':'" + then + "'}",
                "{'kind':'amend-unit','unit':'" + unit + "','members':{'parent':'"
                        + pick(now.units(), Unit::id, u -> base.estate().unit(u).isPresent()) + "'}}",
                "{'kind':'amend-unit','unit':'" + unit + "','members':{'name':'Renamed'}}",
                "{'kind':'amend-account','account':'" + account + "','members':{'unit':'" + unit + "'}}",
                "{'kind':'amend-account','account':'" + account + "','members':{'active':" + random.nextBoolean()
                        + "}}",
                "{'kind':'amend-account','account':'" + account + "','members':{'displayName':'Renamed'}}",
                "{'kind':'put-members','group':'" + group + "','who':['account:" + account + "']}",
                "{'kind':'put-members','group':'" + group + "','who':['group:" + other + "']}",
                "{'kind':'remove-members','group':'" + group + "','who':['account:" + account + "']}",
                "{'kind':'remove-members','group':'" + group + "','who':['group:" + other + "']}",
                "{'kind':'remove-account','account':'" + account + "'}",
                "{'kind':'remove-unit','unit':'" + unit + "'}",
                "{'kind':'remove-group','group':'" + group + "'}",
                "{'kind':'remove-policy','policy':'" + policy + "'}",
                "{'kind':'remove-plan','plan':'" + plan + "'}",
                "{'kind':'rank-policy','policy':'" + policy + "','above':null}",
                "{'kind':'clear-assignments','policy':'" + policy + "'}",
                addedSetting(model, NEW + id),
                addedSetting(model, NEW + id),
                "{'kind':'amend-setting','setting':'" + setting + "','members':{'openToWorkspaces':"
                        + random.nextBoolean() + ",'help':'Other'}}",
                amendedSetting(setting, one(List.of("default", "needs")), model),
                "{'kind':'put-statement','policy':'" + policy + "','statement':" + statementOn(model) + "}",
                "{'kind':'remove-statement','policy':'" + policy + "','setting':'" + setting + "','says':'set'}",
                "{'kind':'remove-setting','setting':'"
                        + (now.catalogue().settings().size() > 3 ? setting : "none") + "'}",
                "{'kind':'remove-release','release':'" + setting + "'}",
                "{'kind':'amend-catalogue','members':{'sizes':" + sizes(now) + "}}",
                "{'kind':'amend-catalogue','members':{'families':[{'id':'" + id + "','name':'Family','states':[{"
                        + "'name':'State','values':{}}]}]}}"));
        now.policy(policy).ifPresent(p -> {
            JsonNode assignments = p.source().path("assignments");
            if (!assignments.isEmpty())
                forms.add("{'kind':'remove-assignment','policy':'" + policy + "','assignment':"
                        + Json.write(assignments.get(random.nextInt(assignments.size()))) + "}");
        });
        return forms.get(random.nextInt(forms.size()));
    }

    /** A new setting that is like another. */
    private static String addedSetting(Setting model, String key) {
        ObjectNode body = model.source().deepCopy().put("key", key);
        return "{'kind':'add-setting','setting':" + Json.write(body) + "}";
    }

    private static String amendedSetting(String setting, String member, Setting model) {
        ObjectNode members = Json.NODES.objectNode();
        members.set(member, model.source().get(member));
        model.fallback().ifPresent(f -> members.set("fallback", f.json()));
        return "{'kind':'amend-setting','setting':'" + setting + "','members':" + Json.write(members) + "}";
    }

    private static String statementOn(Setting setting) {
        ObjectNode said = Json.NODES.objectNode().put("setting", setting.key());
        if (setting.builtIn() instanceof Default.Fixed fixed)
            said.set("set", fixed.value().json());
        else setting.strictness().ifPresent(s -> said.set("cap", s.strictEnd().json()));
        return Json.write(said);
    }

    private String sizes(Estate now) {
        List<String> sizes = new ArrayList<>(now.catalogue().sizes());
        Collections.shuffle(sizes, random);
        return Json.write(Json.MAPPER.valueToTree(sizes));
    }

    private String account(String id, String unit) {
        return "{'kind':'add-account','account':{'id':'" + id + "','userName':'" + id
                + "@skerrymore.example','displayName':'New','kind':'"
                + one(List.of("person", "person", "room", "guest")) + "','unit':'" + unit + "'"
                + (random.nextInt(4) == 0 ? ",'active':false" : "")
                + (random.nextBoolean() ? ",'started':'2017-03-01'" : "") + "}}";
    }

    /** A statement of some policy of the estate from which the draft starts; what it speaks of stays. */
    private String statement(Estate now) {
        List<String> said = new ArrayList<>();
        for (Policy policy : base.estate().policies())
            policy.source().path("statements").forEach(s -> said.add(Json.write(s)));
        return said.isEmpty() ? "{}" : one(said);
    }

    private String statements(Estate now) {
        String statement = statement(now);
        return statement.equals("{}") ? "[]" : "[" + statement + "]";
    }

    private <T> String pick(List<T> from, Function<T, String> id, java.util.function.Predicate<String> isOld) {
        if (from.isEmpty()) return "none";
        List<T> fresh =
                from.stream().filter(part -> !isOld.test(id.apply(part))).toList();
        return id.apply(fresh.isEmpty() || random.nextInt(3) == 0 ? one(from) : one(fresh));
    }

    private <T> T one(List<T> from) {
        return from.get(random.nextInt(from.size()));
    }
}
