package leanladder;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import leanladder.estate.Estate;
import leanladder.estate.read.EstateReader;
import leanladder.estate.read.InvalidEstateException;
import leanladder.json.Json;

/** Makes small estates that use every rule of resolution.md, from a seed. They are always valid. */
public final class RandomEstate {
    /** The instant around which all windows, openings and consents lie. */
    public static final Instant NOW = Instant.parse("2026-11-23T12:00:00Z");

    private static final List<String> KINDS = List.of("person", "person", "person", "room", "guest", "service");
    private static final List<String> DEVICES = List.of("desk", "phone", "tablet");
    private static final List<String> VERSIONS = List.of("1", "1.2", "1.2.0", "1.10", "2", "2.0.1");
    private static final List<String> TITLES =
            List.of("Bosun", "bosun", "First mate", "first MATE", "Straße", "strasse", "İzmir", "");
    private static final List<String> LEVELS = List.of("own", "firms", "address", "code", "anyone");
    private static final List<String> DOMAINS =
            List.of("a.example", "b.example", "c.example", "\uD83D\uDE80.example", "\uFFFD.example");

    private final Random random;
    private final ObjectNode estate = Json.NODES.objectNode();
    private final List<String> units = new ArrayList<>();
    private final List<String> accounts = new ArrayList<>();
    private final List<String> groups = new ArrayList<>();
    private final List<String> accessGroups = new ArrayList<>();
    private final List<String> workspaces = new ArrayList<>();
    private final List<String> hostings = new ArrayList<>();
    private final List<String> builderRings = new ArrayList<>();
    private final List<String> rings = new ArrayList<>();
    private final List<ObjectNode> settings = new ArrayList<>();

    private RandomEstate(long seed) {
        random = new Random(seed);
    }

    /** An estate file, as a tree. */
    public static ObjectNode json(long seed) {
        return new RandomEstate(seed).build();
    }

    /** Reads an estate file from a tree. */
    public static Estate read(JsonNode json) {
        try {
            return EstateReader.read(new ByteArrayInputStream(Json.write(json).getBytes(StandardCharsets.UTF_8)))
                    .estate();
        } catch (IOException | InvalidEstateException e) {
            throw new AssertionError(e.getMessage() + "\n" + json.toPrettyString(), e);
        }
    }

    private boolean chance(double p) {
        return random.nextDouble() < p;
    }

    private <T> T pick(List<T> from) {
        return from.get(random.nextInt(from.size()));
    }

    private String instant() {
        return NOW.plusSeconds((random.nextInt(9) - 4) * 3600L).toString();
    }

    private ObjectNode build() {
        estate.put("format", "lean-ladder-estate/1");
        ObjectNode organisation = estate.putObject("organisation").put("name", "Skerrymore Ferries");
        if (chance(0.8)) organisation.put("region", pick(List.of("eu", "uk")));
        units();
        if (chance(0.8)) rings();
        accounts();
        groups();
        rules();
        workspaces();
        catalogue();
        policies();
        plans();
        releases();
        return estate;
    }

    private void units() {
        ArrayNode list = estate.putArray("units");
        int n = 1 + random.nextInt(8);
        for (int i = 0; i < n; i++) {
            ObjectNode unit = list.addObject().put("id", "u" + i).put("name", "Unit " + i);
            if (i > 0) unit.put("parent", pick(units));
            units.add("u" + i);
        }
    }

    private void rings() {
        ArrayNode list = estate.putArray("rings");
        int n = 1 + random.nextInt(4);
        for (int i = 0; i < n; i++) {
            list.addObject().put("id", "r" + i).put("name", "Ring " + i).put("asksConsent", i < n - 1 && chance(0.7));
            rings.add("r" + i);
        }
        list.forEach(ring -> terms((ObjectNode) ring));
        if (chance(0.5)) track();
    }

    private void terms(ObjectNode of) {
        if (!chance(0.4)) return;
        int version = 1 + random.nextInt(3);
        ObjectNode terms = of.putObject("terms").put("version", version).put("text", "Unfinished.");
        if (chance(0.7)) terms.put("from", random.nextInt(version + 1));
    }

    private void track() {
        ObjectNode track = estate.putArray("tracks")
                .addObject()
                .put("id", "t0")
                .put("name", "For builders")
                .put("setting", "preview.builders");
        ArrayNode list = track.putArray("rings");
        int n = 1 + random.nextInt(3);
        for (int i = 0; i < n; i++) {
            ObjectNode ring = list.addObject()
                    .put("id", "b" + i)
                    .put("name", "Builders " + i)
                    .put("asksConsent", i < n - 1 && chance(0.7));
            terms(ring);
            builderRings.add("b" + i);
        }
    }

    private List<String> allRings() {
        List<String> all = new ArrayList<>(rings);
        all.addAll(builderRings);
        return all;
    }

    private void accounts() {
        ArrayNode list = estate.putArray("accounts");
        int n = random.nextInt(14);
        for (int i = 0; i < n; i++) {
            ObjectNode account = list.addObject()
                    .put("id", "a" + i)
                    .put("userName", "a" + i + "@skerrymore.example")
                    .put("displayName", "Account " + i)
                    .put("kind", pick(KINDS))
                    .put("unit", pick(units));
            if (chance(0.15)) account.put("active", false);
            if (chance(0.5))
                account.put(
                        "lastSeen",
                        NOW.minusSeconds(random.nextInt(120) * 86_400L).toString());
            if (chance(0.7)) account.put("started", "20" + (15 + random.nextInt(4)) + "-03-01");
            if (!rings.isEmpty() && chance(0.5)) {
                ArrayNode consents = account.putArray("consents");
                for (int c = 0; c <= random.nextInt(2); c++) {
                    String ring = pick(allRings());
                    consent(consents.addObject().put("ring", ring), termsOfRing(ring));
                }
            }
            what(account);
            devices(account);
            accounts.add("a" + i);
        }
    }

    private void what(ObjectNode account) {
        if (chance(0.3)) account.put("language", pick(List.of("pt", "pt-BR", "en", "de-CH-1996")));
        if (!chance(0.7)) return;
        ObjectNode attributes = account.putObject("attributes");
        if (chance(0.8)) attributes.put("title", pick(TITLES));
        if (chance(0.4)) attributes.put("grade", random.nextInt(12));
        if (chance(0.3)) attributes.put("sea", chance(0.5));
        if (chance(0.3)) {
            ArrayNode tags = attributes.putArray("tags");
            for (String tag : List.of("safety", "Deck", "")) if (chance(0.4)) tags.add(tag);
        }
    }

    private void devices(ObjectNode account) {
        if (!chance(0.6)) return;
        ArrayNode devices = account.putArray("devices");
        for (int i = random.nextInt(3); i >= 0; i--) {
            ObjectNode device = devices.addObject().put("id", "d" + i).put("kind", pick(DEVICES));
            ObjectNode apps = device.putObject("apps");
            for (String app : List.of("chat", "mail")) if (chance(0.6)) apps.put(app, pick(VERSIONS));
        }
    }

    /** A rule asks only for groups that come before the one that has it, so that there is no circle. */
    private void rules() {
        List<String> before = new ArrayList<>();
        for (JsonNode group : estate.get("groups")) {
            if (chance(0.4)) ((ObjectNode) group).put("rule", rule(before, 0));
            before.add(group.get("id").asText());
        }
    }

    private String rule(List<String> groups, int depth) {
        int form = random.nextInt(depth > 2 ? 7 : 10);
        return switch (form) {
            case 0 -> "unit " + pick(List.of("eq", "NE")) + " \"" + pick(units) + "\"";
            case 1 ->
                groups.isEmpty()
                        ? "active " + pick(List.of("eq true", "ne TRUE", "pr"))
                        : "memberOf " + pick(List.of("eq", "ne")) + " \"" + pick(groups) + "\"";
            case 2 -> "kind " + pick(List.of("eq", "ne", "co")) + " \"" + pick(List.of("Person", "room", "e")) + "\"";
            case 3 ->
                "attributes.title " + pick(List.of("eq", "ne", "co", "sw", "ew", "gt", "le")) + " \"" + pick(TITLES)
                        + "\"";
            case 4 -> pick(List.of("started", "attributes.tags", "attributes.title", "attributes.grade")) + " pr";
            case 5 ->
                pick(List.of(
                        "attributes.tags eq \"safety\"",
                        "attributes.tags ne \"DECK\"",
                        "attributes.grade ge \"5\"",
                        "attributes.sea eq \"true\"",
                        "started lt \"2017\"",
                        "attributes.tags co \"\""));
            case 6 -> pick(List.of("id eq \"a1\"", "userName sw \"A\"", "displayName ew \"2\"", "id ge \"a5\""));
            case 7 -> "not (" + rule(groups, depth + 1) + ")";
            case 8 -> "(" + rule(groups, depth + 1) + ") and " + rule(groups, depth + 1);
            default -> rule(groups, depth + 1) + " or " + rule(groups, depth + 1);
        };
    }

    /** The version of the terms of a ring, 0 where it has none. What somebody agreed to was there once. */
    private int termsOfRing(String id) {
        for (JsonNode list : estate.findValues("rings"))
            for (JsonNode ring : list)
                if (ring.path("id").asText().equals(id))
                    return ring.path("terms").path("version").asInt(0);
        return 0;
    }

    /** @param terms the latest version that can have been read */
    private void consent(ObjectNode consent, int terms) {
        Instant at = Instant.parse(instant());
        consent.put("at", at.toString());
        if (chance(0.6)) consent.put("terms", random.nextInt(terms + 1));
        if (chance(0.3))
            consent.put("until", at.plusSeconds((1 + random.nextInt(6)) * 3600L).toString());
    }

    private void groups() {
        ArrayNode list = estate.putArray("groups");
        int n = random.nextInt(7);
        for (int i = 0; i < n; i++) {
            boolean access = chance(0.75);
            ObjectNode group = list.addObject()
                    .put("id", "g" + i)
                    .put("name", "Group " + i)
                    .put("purpose", access ? "access" : "mailing");
            members(group, true);
            if (!accounts.isEmpty()) group.putArray("owners").add(pick(accounts));
            groups.add("g" + i);
            if (access) accessGroups.add("g" + i);
        }
    }

    private void members(ObjectNode of, boolean nested) {
        ArrayNode members = of.putArray("members");
        for (String account : accounts) if (chance(0.25)) members.add("account:" + account);
        if (nested) for (String group : groups) if (chance(0.3)) members.add("group:" + group);
    }

    private void workspaces() {
        ArrayNode shared = estate.putArray("hostings");
        for (int i = 0; i < random.nextInt(3); i++) {
            ObjectNode hosting = shared.addObject()
                    .put("id", "h" + i)
                    .put("name", "Hosting " + i)
                    .put("size", pick(List.of("S", "M", "L")));
            if (chance(0.3)) hosting.put("trial", true);
            if (chance(0.3)) hosting.put("state", pick(List.of("paused", "running")));
            if (!accounts.isEmpty()) hosting.putArray("keepers").add(pick(accounts));
            hostings.add("h" + i);
        }
        ArrayNode list = estate.putArray("workspaces");
        for (int i = 0; i < random.nextInt(4); i++) {
            ObjectNode workspace = list.addObject().put("id", "w" + i).put("name", "Workspace " + i);
            if (!hostings.isEmpty() && chance(0.6)) workspace.put("hosting", pick(hostings));
            else workspace.put("size", pick(List.of("S", "M", "L"))).put("trial", chance(0.3));
            if (!accounts.isEmpty() && chance(0.6))
                workspace.putArray("stewards").add(pick(accounts));
            members(workspace, true);
            workspaces.add("w" + i);
        }
    }

    private void catalogue() {
        ObjectNode catalogue = estate.putObject("catalogue");
        catalogue.putArray("sizes").add("S").add("M").add("L");
        ArrayNode apps = catalogue.putArray("apps");
        apps.addObject().put("id", "chat").put("name", "Chat");
        apps.addObject().put("id", "mail").put("name", "Mail");
        ArrayNode entitlements = catalogue.putArray("entitlements");
        for (String e : List.of("chat", "assistant", "video"))
            entitlements.addObject().put("id", e).put("name", e);
        ArrayNode list = catalogue.putArray("settings");
        if (!rings.isEmpty() && chance(0.8)) {
            ObjectNode ring = setting("preview.ring", "choice", 0);
            rings.forEach(ring.putArray("options")::add);
            ring.put("default", rings.get(rings.size() - 1));
        }
        if (!builderRings.isEmpty()) {
            ObjectNode ring = setting("preview.builders", "choice", 0);
            builderRings.forEach(ring.putArray("options")::add);
            ring.put("default", pick(builderRings));
        }
        int n = 1 + random.nextInt(9);
        for (int i = 0; i < n; i++) randomSetting(i);
        var shuffled = new ArrayList<>(settings);
        java.util.Collections.shuffle(shuffled, random);
        shuffled.forEach(list::add);
    }

    private ObjectNode setting(String key, String type, int i) {
        ObjectNode setting = Json.NODES
                .objectNode()
                .put("key", key)
                .put("app", "chat")
                .put("title", "Setting " + i)
                .put("type", type);
        settings.add(setting);
        return setting;
    }

    private void randomSetting(int i) {
        String type = pick(List.of(
                "switch", "switch", "choice", "choice", "number", "text", "link", "list", "list", "people", "picture"));
        List<ObjectNode> before = List.copyOf(settings);
        ObjectNode setting = setting("chat.s" + i, type, i);
        boolean ordered = List.of("switch", "choice", "number").contains(type) && chance(0.8);
        if (type.equals("choice")) LEVELS.forEach(setting.putArray("options")::add);
        if (type.equals("number")) setting.put("min", 0).put("max", 4);
        if (ordered && type.equals("switch")) setting.put("strict", chance(0.3));
        if (ordered && type.equals("choice")) setting.put("ordered", true);
        if (ordered && type.equals("number")) setting.put("strict", chance(0.5) ? "lower" : "higher");
        if (ordered && chance(0.5)) setting.put("merge", pick(List.of("strictest", "loosest", "ranked")));
        if ((type.equals("list") || type.equals("people")) && chance(0.7)) setting.put("merge", "gather");
        if ((type.equals("text") || type.equals("link")) && chance(0.4)) setting.put("byLanguage", true);
        if (chance(0.4)) setting.put("openToWorkspaces", true);
        List<ObjectNode> same = before.stream()
                .filter(s -> s.get("type").asText().equals(type)
                        && s.path("byLanguage").equals(setting.path("byLanguage"))
                        && !s.get("key").asText().startsWith("preview."))
                .toList();
        if (!same.isEmpty() && chance(0.35))
            setting.putObject("default").put("follow", pick(same).get("key").asText());
        else setting.set("default", value(setting));
        if (chance(0.5)) {
            ArrayNode needs = setting.putArray("needs");
            for (int n = 0; n <= random.nextInt(3); n++) {
                ObjectNode need = need(before, true);
                if (ordered && chance(0.4)) need.set("otherwise", value(setting));
                needs.add(need);
            }
            setting.set("fallback", ordered ? strictEnd(setting) : value(setting));
        }
    }

    private JsonNode strictEnd(ObjectNode setting) {
        return switch (setting.get("type").asText()) {
            case "switch" -> setting.get("strict");
            case "choice" -> setting.get("options").get(0);
            default -> setting.get(setting.get("strict").asText().equals("lower") ? "min" : "max");
        };
    }

    private JsonNode value(ObjectNode setting) {
        if (setting.path("byLanguage").asBoolean()) {
            ObjectNode texts = Json.NODES.objectNode();
            ObjectNode plain = setting.deepCopy();
            plain.remove("byLanguage");
            texts.set("*", value(plain));
            for (String tag : List.of("pt", "de-CH")) if (chance(0.4)) texts.set(tag, value(plain));
            return texts;
        }
        switch (setting.get("type").asText()) {
            case "switch":
                return Json.NODES.booleanNode(random.nextBoolean());
            case "choice":
                return setting.get("options")
                        .get(random.nextInt(setting.get("options").size()));
            case "number":
                return Json.NODES.numberNode(java.math.BigInteger.valueOf(random.nextInt(5)));
            case "text":
                return Json.NODES.textNode(pick(List.of("", "Mind the gap", "Zażółć")));
            case "link":
                return Json.NODES.textNode(
                        pick(List.of("https://help.skerrymore.example/a", "mailto:desk@skerrymore.example")));
            case "people":
                ArrayNode people = Json.NODES.arrayNode();
                if (chance(0.2)) people.add("organisation");
                for (String unit : units) if (chance(0.2)) people.add("unit:" + unit);
                for (String group : groups) if (chance(0.2)) people.add("group:" + group);
                for (String account : accounts) if (chance(0.1)) people.add("account:" + account);
                return people;
            case "picture":
                return Json.NODES.nullNode();
            default:
                ArrayNode list = Json.NODES.arrayNode();
                for (String domain : DOMAINS) if (chance(0.3)) list.add(domain);
                if (chance(0.2) && !list.isEmpty()) list.add(list.get(0));
                return list;
        }
    }

    private ObjectNode need(List<ObjectNode> before, boolean outer) {
        ObjectNode need = Json.NODES.objectNode();
        List<ObjectNode> ordered = before.stream()
                .filter(s -> s.has("strict") || s.path("ordered").asBoolean())
                .toList();
        switch (random.nextInt(outer ? 10 : 9)) {
            case 0 -> need.putArray("kind").add("person").add("room");
            case 1 -> need.putArray("region").add("eu");
            case 2 -> {
                need.put("hosting", pick(List.of("S", "M", "L")));
                if (chance(0.5)) need.put("allowTrial", chance(0.5));
            }
            case 3 -> {
                if (rings.isEmpty())
                    need.putArray("entitlement").add("assistant").add("video");
                else need.put("release", true);
            }
            case 4 -> {
                if (ordered.isEmpty()) return need(before, outer);
                ObjectNode other = pick(ordered);
                need.set("asLooseAs", value(other));
                need.put("setting", other.get("key").asText());
            }
            case 5 -> {
                if (before.isEmpty()) return need(before, outer);
                ObjectNode other = pick(before);
                need.put("setting", other.get("key").asText());
                need.set("is", value(other));
            }
            case 6 -> need.putArray("entitlement").add(pick(List.of("chat", "assistant")));
            case 7 -> {
                ArrayNode roles = need.putArray("role");
                for (String role : List.of("steward", "member")) if (roles.isEmpty() || chance(0.4)) roles.add(role);
            }
            case 8 -> {
                if (chance(0.6)) need.putArray("device").add(pick(DEVICES));
                if (!need.has("device") || chance(0.7)) {
                    need.put("app", pick(List.of("chat", "mail")));
                    if (chance(0.7)) need.put("atLeast", pick(VERSIONS));
                }
            }
            default -> {
                ArrayNode inner = need.putArray("anyOf");
                for (int i = 0; i <= random.nextInt(3); i++) inner.add(need(before, false));
            }
        }
        return need;
    }

    private String target(boolean include, boolean workspaceToo) {
        for (int tries = 0; tries < 20; tries++) {
            switch (random.nextInt(5)) {
                case 0:
                    if (include) return chance(0.5) ? "organisation" : "unit:u0";
                    break;
                case 1:
                    if (include || units.size() > 1)
                        return "unit:"
                                + units.get(
                                        include ? random.nextInt(units.size()) : 1 + random.nextInt(units.size() - 1));
                    break;
                case 2:
                    if (!accessGroups.isEmpty()) return "group:" + pick(accessGroups);
                    break;
                case 3:
                    if (!accounts.isEmpty()) return "account:" + pick(accounts);
                    break;
                default:
                    if (include && workspaceToo && !hostings.isEmpty() && chance(0.4))
                        return "hosting:" + pick(hostings);
                    if (include && workspaceToo && !workspaces.isEmpty()) return "workspace:" + pick(workspaces);
            }
        }
        return null;
    }

    private ObjectNode assignment(boolean workspaceToo) {
        boolean include = chance(0.7);
        String target = target(include, workspaceToo);
        ObjectNode assignment = Json.NODES.objectNode();
        if (target == null) return assignment.put("include", "organisation");
        assignment.put(include ? "include" : "except", target);
        boolean isPlace = target.startsWith("workspace:") || target.startsWith("hosting:");
        if (include && workspaceToo && !isPlace && chance(0.35)) {
            if (!hostings.isEmpty() && chance(0.5)) assignment.put("in", "hosting:" + pick(hostings));
            else if (!workspaces.isEmpty()) assignment.put("in", "workspace:" + pick(workspaces));
        }
        int from = random.nextInt(9) - 4;
        if (chance(0.25)) assignment.put("from", NOW.plusSeconds(from * 3600L).toString());
        if (chance(0.25))
            assignment.put(
                    "until",
                    NOW.plusSeconds((from + 1 + random.nextInt(4)) * 3600L).toString());
        return assignment;
    }

    private void policies() {
        ArrayNode list = estate.putArray("policies");
        ArrayNode ranking = estate.putArray("ranking");
        List<String> ids = new ArrayList<>();
        int n = random.nextInt(11);
        for (int i = 0; i < n; i++) {
            ObjectNode policy = list.addObject().put("id", "p" + i).put("name", "Policy " + i);
            if (chance(0.1)) policy.put("state", "paused");
            ArrayNode statements = policy.putArray("statements");
            for (ObjectNode setting : settings) {
                if (chance(0.4)) {
                    ObjectNode set = statements
                            .addObject()
                            .put("setting", setting.get("key").asText());
                    set.set("set", value(setting));
                    if (chance(0.2)) set.put("lock", true);
                }
                if ((setting.has("strict") || setting.path("ordered").asBoolean()) && chance(0.2))
                    statements
                            .addObject()
                            .put("setting", setting.get("key").asText())
                            .set("cap", value(setting));
            }
            ArrayNode assignments = policy.putArray("assignments");
            for (int a = 0; a <= random.nextInt(4); a++) assignments.add(assignment(true));
            ids.add("p" + i);
        }
        java.util.Collections.shuffle(ids, random);
        ids.stream().filter(id -> chance(0.7)).forEach(ranking::add);
    }

    private void plans() {
        ArrayNode list = estate.putArray("plans");
        for (int i = 0; i < random.nextInt(4); i++) {
            ObjectNode plan = list.addObject().put("id", "l" + i).put("name", "Plan " + i);
            if (chance(0.6)) plan.put("seats", random.nextInt(6));
            else purchases(plan.putArray("purchases"));
            int starts = random.nextInt(9) - 4;
            if (chance(0.2)) plan.put("starts", NOW.plusSeconds(starts * 3600L).toString());
            if (chance(0.2))
                plan.put("ends", NOW.plusSeconds((starts + 2) * 3600L).toString());
            List<String> components = List.of("chat", "assistant", "video").stream()
                    .filter(c -> chance(0.6))
                    .toList();
            components.forEach(plan.putArray("components")::add);
            if (chance(0.3)) plan.putArray("kinds").add("person").add("guest");
            ArrayNode rules = plan.putArray("rules");
            for (int r = 0; r <= random.nextInt(4); r++) {
                ObjectNode rule = assignment(false);
                if (rule.has("include") && chance(0.4)) {
                    ArrayNode off = rule.putArray("off");
                    components.stream().filter(c -> chance(0.4)).forEach(off::add);
                }
                rules.add(rule);
            }
            ArrayNode holders = plan.putArray("holders");
            String together = earlier();
            for (String account : accounts)
                if (chance(0.2))
                    holders.addObject().put("account", account).put("granted", chance(0.5) ? together : earlier());
        }
    }

    /** An instant at which a seat can have been granted: some hours ago, or some days. */
    private String earlier() {
        return NOW.minusSeconds(3600L * (3 + random.nextInt(chance(0.5) ? 9 : 400)))
                .toString();
    }

    private void purchases(ArrayNode purchases) {
        for (int i = random.nextInt(4); i > 0; i--) {
            ObjectNode purchase = purchases.addObject().put("seats", 1 + random.nextInt(3));
            int from = random.nextInt(9) - 6;
            if (chance(0.6)) purchase.put("from", NOW.plusSeconds(from * 3600L).toString());
            if (chance(0.3))
                purchase.put(
                        "until",
                        NOW.plusSeconds((from + 1 + random.nextInt(6)) * 3600L).toString());
        }
    }

    private void releases() {
        if (rings.isEmpty()) return;
        ArrayNode list = estate.putArray("releases");
        for (ObjectNode setting : settings) {
            if (!chance(0.6)) continue;
            ObjectNode release =
                    list.addObject().put("setting", setting.get("key").asText());
            boolean ofBuilders = !builderRings.isEmpty() && chance(0.4);
            if (ofBuilders) release.put("track", "t0");
            ObjectNode opens = release.putObject("opens");
            for (String ring : ofBuilders ? builderRings : rings) if (chance(0.5)) opens.put(ring, instant());
            String target = target(false, false);
            if (target != null && chance(0.5))
                release.putArray("early").addObject().put("to", target).put("from", instant());
            if (chance(0.5)) release.put("oneByOne", true);
            terms(release);
            for (JsonNode account : estate.get("accounts"))
                if (chance(0.2))
                    consent(
                            ((ObjectNode) account)
                                    .withArray("consents")
                                    .addObject()
                                    .put("release", setting.get("key").asText()),
                            release.path("terms").path("version").asInt(0));
        }
    }
}
