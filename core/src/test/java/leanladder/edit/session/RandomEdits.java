package leanladder.edit.session;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.List;
import java.util.Random;
import leanladder.estate.Plan;
import leanladder.estate.Policy;
import leanladder.estate.read.Section;
import leanladder.json.Json;
import leanladder.resolve.CompiledEstate;
import leanladder.workingcopy.EntityStore;

/** Edits of random estates. */
public final class RandomEdits {
    private RandomEdits() {}

    /** Random edits, not all of which fit. */
    static List<String> ofPolicies(CompiledEstate compiledEstate, Random random, int most) {
        List<String> edits = new java.util.ArrayList<>();
        List<Policy> policies = compiledEstate.estate().policies();
        List<String> settings =
                List.copyOf(compiledEstate.estate().catalogue().settings().keySet());
        for (int i = 0; i < most; i++) {
            Policy policy = policies.get(random.nextInt(policies.size()));
            String id = policy.id();
            String other = policies.get(random.nextInt(policies.size())).id();
            String setting = settings.get(random.nextInt(settings.size()));
            JsonNode said =
                    policies.get(random.nextInt(policies.size())).source().get("statements");
            String statement = said.isEmpty() ? "{}" : Json.write(said.get(random.nextInt(said.size())));
            JsonNode aimed = policy.source().get("assignments");
            String assignment = aimed.isEmpty() ? "{}" : Json.write(aimed.get(random.nextInt(aimed.size())));
            String[] forms = {
                "{\"kind\":\"remove-policy\",\"policy\":\"" + id + "\"}",
                "{\"kind\":\"rank-policy\",\"policy\":\"" + id + "\",\"above\":\"" + other + "\"}",
                "{\"kind\":\"rank-policy\",\"policy\":\"" + id + "\",\"above\":null}",
                "{\"kind\":\"amend-policy\",\"policy\":\"" + id
                        + "\",\"members\":{\"state\":\"paused\",\"name\":\"Other\"}}",
                "{\"kind\":\"put-statement\",\"policy\":\"" + id + "\",\"statement\":" + statement + "}",
                "{\"kind\":\"remove-statement\",\"policy\":\"" + id + "\",\"setting\":\"" + setting
                        + "\",\"says\":\"set\"}",
                "{\"kind\":\"remove-assignment\",\"policy\":\"" + id + "\",\"assignment\":" + assignment + "}",
                "{\"kind\":\"put-assignment\",\"policy\":\"" + id + "\",\"assignment\":{\"include\":\"organisation\"}}",
                "{\"kind\":\"put-assignment\",\"policy\":\"" + id + "\",\"assignment\":{\"except\":\"account:a1\"}}",
                "{\"kind\":\"add-policy\",\"policy\":{\"name\":\"New\",\"statements\":" + statements(compiledEstate, id)
                        + ",\"assignments\":[{\"include\":\"unit:u0\"}]},\"below\":\"" + other + "\"}"
            };
            edits.add(forms[random.nextInt(forms.length)]);
        }
        return edits;
    }

    /** Random edits of units, accounts and groups, not all of which fit. */
    static List<String> ofDirectory(CompiledEstate compiledEstate, Random random, int most) {
        List<String> edits = new java.util.ArrayList<>();
        var estate = compiledEstate.estate();
        for (int i = 0; i < most; i++) {
            String account = estate.accounts().isEmpty()
                    ? "none"
                    : one(estate.accounts(), random).id();
            String unit = one(estate.units(), random).id();
            String other = one(estate.units(), random).id();
            String group = estate.groups().isEmpty()
                    ? "none"
                    : one(estate.groups(), random).id();
            String inner = estate.groups().isEmpty()
                    ? "none"
                    : one(estate.groups(), random).id();
            String[] forms = {
                "{'kind':'amend-group','group':'" + group + "','members':{'rule':"
                        + (random.nextInt(4) == 0 ? "null" : "'" + rule(unit, inner, random) + "'") + "}}",
                "{'kind':'amend-account','account':'" + account + "','members':{'attributes':{'title':'"
                        + (random.nextBoolean() ? "BOSUN" : "Cook") + "'}}}",
                "{'kind':'amend-account','account':'" + account
                        + "','members':{'devices':[{'id':'d','kind':'tablet','apps':{'chat':'"
                        + (1 + random.nextInt(3)) + "'}}]}}",
                "{'kind':'add-unit','unit':{'name':'New','parent':'" + unit + "'}}",
                "{'kind':'amend-unit','unit':'" + unit + "','members':{'name':'Other','parent':'" + other + "'}}",
                "{'kind':'remove-unit','unit':'" + unit + "'}",
                "{'kind':'add-account','account':{'id':'zz" + i
                        + "','userName':'z','displayName':'Z','kind':'person','unit':'" + unit + "'}}",
                "{'kind':'amend-account','account':'" + account + "','members':{'unit':'" + unit + "'}}",
                "{'kind':'amend-account','account':'" + account + "','members':{'active':false}}",
                "{'kind':'amend-account','account':'" + account
                        + "','members':{'active':true,'kind':'guest','started':'2020-01-01'}}",
                "{'kind':'remove-account','account':'" + account + "'}",
                "{'kind':'add-group','group':{'id':'gg" + i + "','name':'G','purpose':'access','members':['account:"
                        + account + "','group:" + group + "']}}",
                "{'kind':'amend-group','group':'" + group + "','members':{'name':'Other','purpose':'mailing'}}",
                "{'kind':'remove-group','group':'" + group + "'}",
                "{'kind':'put-members','group':'" + group + "','who':['account:" + account + "']}",
                "{'kind':'put-members','group':'" + group + "','who':['group:" + inner + "','account:" + account
                        + "']}",
                "{'kind':'remove-members','group':'" + group + "','who':['account:" + account + "']}",
                "{'kind':'batch','edits':[{'kind':'put-members','group':'" + group + "','who':['account:" + account
                        + "']},{'kind':'amend-account','account':'" + account + "','members':{'unit':'" + other
                        + "'}}]}"
            };
            edits.add(forms[random.nextInt(forms.length)].replace('\'', '"'));
        }
        return edits;
    }

    /** A rule as a text within JSON within single quotation marks. */
    static String rule(String unit, String group, Random random) {
        List<String> rules = List.of(
                "unit eq @" + unit + "@",
                "memberOf ne @" + group + "@",
                "memberOf eq @" + group + "@ or attributes.title eq @bosun@",
                "not (active eq true) and kind eq @person@",
                "attributes.title pr and not (unit eq @" + unit + "@)",
                "displayName co @a@",
                "attributes.title eq @bosun@");
        return one(rules, random).replace("@", "\\\"");
    }

    private static <T> T one(List<T> of, Random random) {
        return of.get(random.nextInt(of.size()));
    }

    /** Random edits of licence plans, not all of which fit. */
    static List<String> ofPlans(CompiledEstate compiledEstate, Random random, int most) {
        List<String> edits = new java.util.ArrayList<>();
        var estate = compiledEstate.estate();
        if (estate.plans().isEmpty()) return edits;
        for (int i = 0; i < most; i++) {
            var plan = one(estate.plans(), random);
            String id = plan.id();
            String account = estate.accounts().isEmpty()
                    ? "none"
                    : one(estate.accounts(), random).id();
            String unit = one(estate.units(), random).id();
            JsonNode rules = plan.source().path("rules");
            String rule = rules.isEmpty() ? "{}" : Json.write(rules.get(random.nextInt(rules.size())));
            String then = leanladder.RandomEstate.NOW
                    .plusSeconds((random.nextInt(9) - 3) * 1800L)
                    .toString();
            String[] forms = {
                "{'kind':'add-plan','plan':{'name':'New','seats':2,'components':['chat'],'rules':[{'include':'unit:"
                        + unit + "'}]}}",
                "{'kind':'amend-plan','plan':'" + id + "','members':{'name':'Other','ends':'" + then + "'}}",
                "{'kind':'amend-plan','plan':'" + id + "','members':{'components':['chat','assistant','video']}}",
                "{'kind':'amend-plan','plan':'" + id + "','members':{'kinds':['person']}}",
                "{'kind':'remove-plan','plan':'" + id + "'}",
                "{'kind':'buy-seats','plan':'" + id + "','purchase':{'seats':2,'from':'" + then + "'}}",
                "{'kind':'buy-seats','plan':'" + id + "','purchase':{'seats':1}}",
                "{'kind':'return-seats','plan':'" + id + "','seats':1,'from':'" + then + "'}",
                "{'kind':'return-seats','plan':'" + id + "','seats':2,'from':'" + then + "'}",
                "{'kind':'put-rule','plan':'" + id + "','rule':{'include':'unit:" + unit + "'}}",
                "{'kind':'put-rule','plan':'" + id + "','rule':{'include':'organisation','from':'" + then
                        + "'},'above':" + rule + "}",
                "{'kind':'remove-rule','plan':'" + id + "','rule':" + rule + "}",
                "{'kind':'rank-rule','plan':'" + id + "','rule':" + rule + ",'above':null}",
                "{'kind':'give-seats','plan':'" + id + "','accounts':['" + account + "']}",
                "{'kind':'take-seats','plan':'" + id + "','accounts':['" + account + "']}"
            };
            edits.add(forms[random.nextInt(forms.length)].replace('\'', '"'));
        }
        return edits;
    }

    /** Random edits of workspaces, and of which settings are open to them; not all of which fit. */
    static List<String> ofWorkspaces(CompiledEstate compiledEstate, Random random, int most) {
        List<String> edits = new java.util.ArrayList<>();
        var estate = compiledEstate.estate();
        List<String> settings = List.copyOf(estate.catalogue().settings().keySet());
        for (int i = 0; i < most; i++) {
            String workspace = estate.workspaces().isEmpty()
                    ? "none"
                    : one(estate.workspaces(), random).id();
            String size = estate.catalogue().sizes().isEmpty()
                    ? "M"
                    : one(estate.catalogue().sizes(), random);
            String hosting = estate.hostings().isEmpty()
                    ? "none"
                    : one(estate.hostings(), random).id();
            String[] forms = {
                "{'kind':'add-hosting','hosting':{'id':'hh" + i + "','name':'Hosting','size':'" + size + "','trial':"
                        + random.nextBoolean() + "}}",
                "{'kind':'amend-hosting','hosting':'" + hosting + "','members':{'size':'" + size + "','state':'"
                        + (random.nextBoolean() ? "paused" : "running") + "'}}",
                "{'kind':'remove-hosting','hosting':'" + hosting + "'}",
                "{'kind':'amend-workspace','workspace':'" + workspace + "','members':{'hosting':'" + hosting + "'}}",
                "{'kind':'amend-setting','setting':'" + one(settings, random) + "','members':{'openToWorkspaces':"
                        + random.nextBoolean() + "}}",
                "{'kind':'amend-workspace','workspace':'" + workspace + "','members':{'size':'" + size + "','trial':"
                        + random.nextBoolean() + "}}"
            };
            edits.add(forms[random.nextInt(forms.length)].replace('\'', '"'));
        }
        return edits;
    }

    /** Random edits of releases and consents, not all of which fit. */
    static List<String> ofPreviews(CompiledEstate compiledEstate, Random random, int most) {
        List<String> edits = new java.util.ArrayList<>();
        var estate = compiledEstate.estate();
        if (estate.rings().isEmpty()) return edits;
        List<String> settings = List.copyOf(estate.catalogue().settings().keySet());
        for (int i = 0; i < most; i++) {
            String setting = one(settings, random);
            var rings = estate.release(setting)
                    .map(estate::trackOf)
                    .map(leanladder.estate.Track::rings)
                    .orElse(estate.rings());
            String ring = rings.isEmpty() ? "none" : one(rings, random).id();
            String account = estate.accounts().isEmpty()
                    ? "none"
                    : one(estate.accounts(), random).id();
            String then = leanladder.RandomEstate.NOW
                    .plusSeconds((random.nextInt(9) - 3) * 1800L)
                    .toString();
            String[] forms = {
                "{'kind':'add-release','release':{'setting':'" + setting + "','opens':{'" + ring + "':'" + then
                        + "'}}}",
                "{'kind':'remove-release','release':'" + setting + "'}",
                "{'kind':'amend-release','release':'" + setting + "','members':{'oneByOne':" + random.nextBoolean()
                        + "}}",
                "{'kind':'open-release','release':'" + setting + "','ring':'" + ring + "','from':'" + then + "'}",
                "{'kind':'open-release','release':'" + setting + "','ring':'" + ring + "','from':null}",
                "{'kind':'open-early','release':'" + setting + "','to':'account:" + account + "','from':'" + then
                        + "'}",
                "{'kind':'pause-release','release':'" + setting + "','reason':'It crashes','since':'" + then + "'}",
                "{'kind':'resume-release','release':'" + setting + "'}",
                arranged(estate.rings(), random),
                tracks(estate.tracks(), random),
                "{'kind':'amend-release','release':'" + setting + "','members':{'terms':{'version':"
                        + (1 + random.nextInt(4)) + ",'text':'Unfinished.','from':" + random.nextInt(2) + "}}}",
                "{'kind':'amend-account','account':'" + account + "','members':{'consents':[{'ring':'" + ring
                        + "','at':'" + then + "'}]}}"
            };
            edits.add(forms[random.nextInt(forms.length)].replace('\'', '"'));
        }
        return edits;
    }

    /** Random words of accounts on previews, and nothing else. */
    static List<String> ofConsents(CompiledEstate compiledEstate, Random random, int most) {
        List<String> edits = new java.util.ArrayList<>();
        var estate = compiledEstate.estate();
        if (estate.rings().isEmpty() || estate.accounts().isEmpty()) return edits;
        for (int i = 0; i < most; i++) {
            String to = estate.releases().isEmpty() || random.nextBoolean()
                    ? "'ring':'" + one(estate.rings(), random).id()
                    : "'release':'"
                            + one(List.copyOf(estate.releases()), random).setting();
            String at = leanladder.RandomEstate.NOW
                    .plusSeconds((random.nextInt(5) - 3) * 1800L)
                    .toString();
            edits.add(("{'kind':'amend-account','account':'"
                            + one(estate.accounts(), random).id()
                            + "','members':{'consents':["
                            + (random.nextInt(4) == 0 ? "" : "{" + to + "','at':'" + at + "'}") + "]}}")
                    .replace('\'', '"'));
        }
        return edits;
    }

    /** The rings in a random order, some asking consent or not any more, sometimes one more or one less. */
    private static String arranged(List<leanladder.estate.Ring> rings, Random random) {
        List<String> ids = new java.util.ArrayList<>(
                rings.stream().map(leanladder.estate.Ring::id).toList());
        if (random.nextInt(3) == 0) java.util.Collections.shuffle(ids, random);
        if (random.nextInt(3) == 0) ids.add(random.nextInt(ids.size() + 1), "");
        if (random.nextInt(3) == 0) ids.remove(random.nextInt(ids.size()));
        List<String> written = new java.util.ArrayList<>();
        for (int i = 0; i < ids.size(); i++) {
            boolean asks = i + 1 < ids.size() && random.nextBoolean();
            written.add("{" + (ids.get(i).isEmpty() ? "" : "'id':'" + ids.get(i) + "',") + "'name':'Ring "
                    + random.nextInt(9) + "','asksConsent':" + asks + "}");
        }
        return "{'kind':'arrange-rings','rings':[" + String.join(",", written) + "]}";
    }

    /** The further tracks with some ring that asks otherwise, or one more. */
    private static String tracks(List<leanladder.estate.Track> tracks, Random random) {
        var all = Json.NODES.arrayNode();
        for (var track : tracks) {
            ObjectNode json = track.json();
            var rings = json.withArray("rings");
            if (random.nextBoolean())
                rings.insertObject(0).put("name", "Ring " + random.nextInt(9)).put("asksConsent", true);
            else ((ObjectNode) rings.get(0)).put("asksConsent", rings.size() > 1 && random.nextBoolean());
            all.add(json);
        }
        return "{'kind':'arrange-tracks','tracks':" + Json.write(all) + "}";
    }

    /** Edits of all kinds. */
    public static List<String> all(CompiledEstate compiledEstate, Random random, int most) {
        List<String> edits = new java.util.ArrayList<>(ofDirectory(compiledEstate, random, most));
        if (random.nextBoolean()) edits.addAll(ofWorkspaces(compiledEstate, random, most));
        if (random.nextBoolean()) edits.addAll(ofPreviews(compiledEstate, random, most));
        if (random.nextBoolean()) edits.addAll(ofPlans(compiledEstate, random, most));
        if (!compiledEstate.estate().policies().isEmpty() && random.nextBoolean())
            edits.addAll(ofPolicies(compiledEstate, random, most));
        return edits;
    }

    /** The same plans with sources that are equal where they are written alike. */
    public static List<Plan> read(List<Plan> plans) {
        return plans.stream()
                .map(p -> new Plan(
                        p.id(), p.name(), p.purchases(), p.term(), p.components(), p.kinds(), p.rules(), (ObjectNode)
                                Json.read(Json.write(p.source()))))
                .toList();
    }

    /** The parts of an estate file, as if they were stored. */
    public static EntityStore bodies(JsonNode estate) {
        return (section, key) -> {
            JsonNode parts = section == Section.SETTINGS
                    ? estate.path("catalogue").get(section.member())
                    : estate.get(section.member());
            for (JsonNode part : parts)
                if (part.get(section.key()).asText().equals(key))
                    return ((ObjectNode) part.deepCopy()).without("holders");
            throw new IllegalArgumentException(section + " " + key);
        };
    }

    private static String statements(CompiledEstate compiledEstate, String policy) {
        return Json.write(
                compiledEstate.estate().policy(policy).orElseThrow().source().get("statements"));
    }
}
