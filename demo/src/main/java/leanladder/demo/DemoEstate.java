package leanladder.demo;

import com.fasterxml.jackson.core.type.TypeReference;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import com.fasterxml.jackson.dataformat.yaml.YAMLMapper;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.text.Normalizer;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.Base64;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Random;
import java.util.Set;
import java.util.function.Predicate;
import leanladder.estate.read.PictureContent;
import leanladder.json.Json;

/**
 * Makes the estate of Skerrymore Ferries from the data files beside it. The seed is fixed, so that pictures, tests and documents
 * agree; the dates lie around 23 November 2026.
 */
public final class DemoEstate {
    private static final long SEED = 1911;
    private static final LocalDate LAST_DAY = LocalDate.of(2026, 11, 24);
    private static final YAMLMapper YAML = new YAMLMapper();

    /** The settings whose values are people; the demo writes them by name. */
    private static final Set<String> PEOPLE = Set.of("mail.open-post", "directory.finds");

    private final Random random = new Random(SEED);
    private final JsonNode company = data("company.yaml");
    private final JsonNode names = data("names.yaml");
    private final ObjectNode estate = Json.NODES.objectNode();
    private final Map<String, String> unitIds = new LinkedHashMap<>();
    private final Map<String, String> accountIds = new LinkedHashMap<>();
    private final Map<String, String> groupIds = new LinkedHashMap<>();
    private final Map<String, String> workspaceIds = new LinkedHashMap<>();
    private final Map<String, String> hostingIds = new LinkedHashMap<>();
    private final List<ObjectNode> accounts = new ArrayList<>();

    static JsonNode data(String file) {
        try (InputStream in = DemoEstate.class.getResourceAsStream("/demo/" + file)) {
            return Json.MAPPER.readTree(Json.MAPPER.writeValueAsString(YAML.readTree(in)));
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    /** The whole estate file. */
    public ObjectNode build() {
        estate.put("format", "lean-ladder-estate/1");
        estate.putObject("organisation")
                .put("name", "Skerrymore Ferries")
                .put("region", "eu")
                .put("timeZone", "Europe/Lisbon");
        units();
        people();
        groups();
        groupsByRule();
        devices();
        hostings();
        workspaces();
        consents();
        asked();
        estate.set("catalogue", new DemoCatalogue(data("catalogue.yaml")).build());
        pictures();
        policies();
        plans();
        estate.set("rings", company.get("rings"));
        estate.set("tracks", company.get("tracks"));
        releases();
        feedback();
        return estate;
    }

    static String slug(String name) {
        String plain = Normalizer.normalize(name, Normalizer.Form.NFD).replaceAll("\\p{M}", "");
        return plain.toLowerCase(Locale.ROOT)
                .replace("'", "")
                .replaceAll("[^a-z0-9]+", "-")
                .replaceAll("^-|-$", "");
    }

    private void unit(String path, String parent) {
        String name = path.substring(path.lastIndexOf('/') + 1);
        String id = slug(path.replace("/", "-"));
        unitIds.put(path, id);
        ObjectNode unit = estate.withArray("/units").addObject().put("id", id).put("name", name);
        if (parent != null) unit.put("parent", parent);
    }

    private void units() {
        unit("Skerrymore Ferries", null);
        String root = unitIds.get("Skerrymore Ferries");
        unit("Fleet", root);
        for (JsonNode ship : company.get("ships")) {
            unit("Fleet/" + ship.asText(), "fleet");
            company.get("crews")
                    .fieldNames()
                    .forEachRemaining(
                            crew -> unit("Fleet/" + ship.asText() + "/" + crew, unitIds.get("Fleet/" + ship.asText())));
        }
        unit("Terminals", root);
        for (JsonNode port : company.get("ports")) {
            unit("Terminals/" + port.asText(), "terminals");
            company.get("port-crews")
                    .fieldNames()
                    .forEachRemaining(crew ->
                            unit("Terminals/" + port.asText() + "/" + crew, unitIds.get("Terminals/" + port.asText())));
        }
        company.get("offices").fields().forEachRemaining(office -> {
            unit(office.getKey(), root);
            office.getValue()
                    .fieldNames()
                    .forEachRemaining(below -> unit(office.getKey() + "/" + below, unitIds.get(office.getKey())));
        });
    }

    private void people() {
        for (JsonNode ship : company.get("ships"))
            company.get("crews")
                    .fields()
                    .forEachRemaining(crew -> crew.getValue()
                            .forEach(title -> person(title.asText(), "Fleet/" + ship.asText() + "/" + crew.getKey())));
        for (JsonNode port : company.get("ports"))
            company.get("port-crews")
                    .fields()
                    .forEachRemaining(crew -> crew.getValue()
                            .forEach(title ->
                                    person(title.asText(), "Terminals/" + port.asText() + "/" + crew.getKey())));
        company.get("offices")
                .fields()
                .forEachRemaining(office -> office.getValue().fields().forEachRemaining(below -> {
                    JsonNode titles = below.getValue().get("titles");
                    for (int i = 0; i < below.getValue().get("people").asInt(); i++)
                        person(
                                titles.get(i == 0 ? 0 : 1 + random.nextInt(titles.size() - 1))
                                        .asText(),
                                office.getKey() + "/" + below.getKey());
                }));
        for (JsonNode ship : company.get("ships"))
            account(ship.asText() + " wheelhouse", "room", "Fleet/" + ship.asText() + "/Bridge", "Wheelhouse tablet");
        for (JsonNode room : company.get("rooms")) account(room.asText(), "room", "Shore office", "Meeting room");
        for (int i = 0; i < company.get("contractors").asInt(); i++) {
            ObjectNode guest = account(freshName(), "guest", "Engineering/Dry dock", "Shipyard contractor");
            guest.put("userName", guest.get("id").asText() + "@shipyard.example");
        }
        for (JsonNode service : company.get("services"))
            account(service.asText(), "service", "Shore office/Systems", "Service");
    }

    /** People whom the stories name, by unit and title, get their names; everybody else a drawn one. */
    private void person(String title, String unit) {
        Map<String, String> cast = Map.of(
                "Second officer Fleet/MV Heron/Bridge", "Mirela Osk",
                "First mate Fleet/MV Plover/Bridge", "Tobin Velho",
                "Systems lead Shore office/Systems", "Ivo Tarn",
                "Marketing lead Commercial/Marketing", "Ines Brandal",
                "People lead Shore office/People", "Anouk Kittow",
                "First mate Fleet/MV Petrel/Bridge", "Maive Quillan",
                "Freight lead Commercial/Freight", "Joaquim Lamego",
                "Bookkeeper Shore office/Finance", "Zofia Lisowa",
                "Boatswain Fleet/MV Heron/Deck", "Sorin Marrak");
        String cue = cast.get(title + " " + unit);
        String name = cue != null && !accountIds.containsKey(cue) ? cue : freshName();
        ObjectNode account = account(name, "person", unit, title);
        if (random.nextInt(60) == 0 && cue == null) account.put("active", false);
    }

    private String freshName() {
        while (true) {
            String name = names.get("given")
                            .get(random.nextInt(names.get("given").size()))
                            .asText() + " "
                    + names.get("family")
                            .get(random.nextInt(names.get("family").size()))
                            .asText();
            if (!accountIds.containsKey(name)
                    && !List.of(
                                    "Mirela Osk",
                                    "Tobin Velho",
                                    "Ivo Tarn",
                                    "Ines Brandal",
                                    "Anouk Kittow",
                                    "Maive Quillan",
                                    "Joaquim Lamego",
                                    "Zofia Lisowa",
                                    "Sorin Marrak")
                            .contains(name)) return name;
        }
    }

    private ObjectNode account(String name, String kind, String unit, String title) {
        String id = slug(name).replace('-', '.');
        ObjectNode account = Json.NODES
                .objectNode()
                .put("id", id)
                .put("userName", id + "@skerrymore.example")
                .put("displayName", name)
                .put("kind", kind)
                .put("unit", unitIds.get(unit));
        if (!kind.equals("service"))
            account.put(
                    "started",
                    String.format(
                            "%d-%02d-%02d", 2008 + random.nextInt(18), 1 + random.nextInt(12), 1 + random.nextInt(28)));
        if (kind.equals("person") || kind.equals("guest"))
            account.put("lastSeen", LAST_DAY.minusDays(daysAway(id)).toString());
        account.putObject("attributes").put("title", title);
        accountIds.put(name, id);
        accounts.add(account);
        estate.withArray("/accounts").add(account);
        return account;
    }

    /** Since how many days somebody was not seen: mostly since yesterday or the weekend, now and then for months. */
    private static int daysAway(String id) {
        int chance = Math.floorMod(id.hashCode(), 37);
        return chance == 0 ? 64 + Math.floorMod(id.hashCode(), 41) : chance % 4;
    }

    private List<String> who(Predicate<ObjectNode> which) {
        return accounts.stream().filter(which).map(a -> a.get("id").asText()).toList();
    }

    private static Predicate<ObjectNode> titled(String... titles) {
        return a -> List.of(titles).contains(a.at("/attributes/title").asText());
    }

    private ObjectNode group(String name, String purpose, List<String> members, String owner) {
        ObjectNode group = estate.withArray("/groups")
                .addObject()
                .put("id", slug(name))
                .put("name", name)
                .put("purpose", purpose);
        group.putArray("owners").add(accountIds.get(owner));
        ArrayNode list = group.putArray("members");
        members.forEach(m -> list.add("account:" + m));
        groupIds.put(name, slug(name));
        return group;
    }

    private void groups() {
        group("Captains", "access", who(titled("Captain")), "Anouk Kittow");
        group("First mates", "access", who(titled("First mate")), "Anouk Kittow");
        group("Bridge officers", "access", who(titled("Second officer", "Third officer")), "Anouk Kittow");
        group("Engineers", "access", who(titled("Chief engineer", "Second engineer")), "Anouk Kittow");
        ObjectNode officers = group("All officers", "access", List.of(), "Anouk Kittow");
        for (String inner : List.of("Captains", "First mates", "Bridge officers", "Engineers"))
            ((ArrayNode) officers.get("members")).add("group:" + slug(inner));
        List<String> night = new ArrayList<>(who(titled("Helmsman", "Motorman").and(a -> random.nextInt(3) == 0)));
        night.add(accountIds.get("Mirela Osk"));
        group("Night watch", "access", night, "Sorin Marrak");
        List<String> stewards = new ArrayList<>(who(titled("Safety inspector", "Safety lead")));
        stewards.addAll(who(titled("Third officer", "Boatswain").and(a -> random.nextInt(2) == 0)));
        group("Safety stewards", "access", stewards, "Anouk Kittow");
        group(
                "Union representatives",
                "access",
                who(a -> a.get("kind").asText().equals("person") && random.nextInt(45) == 0),
                "Sorin Marrak");
        group(
                "Crew schedulers",
                "access",
                who(titled("Crew scheduler", "Timetable planner")).stream()
                        .limit(12)
                        .toList(),
                "Anouk Kittow");
        group("Shipyard contractors", "access", who(a -> a.get("kind").asText().equals("guest")), "Ivo Tarn");
        group("Wheelhouse tablets", "access", who(titled("Wheelhouse tablet")), "Ivo Tarn");
        group("Freight partners", "access", who(titled("Freight lead", "Freight clerk")), "Joaquim Lamego");
        group("Harbour letter", "mailing", who(titled("Berth master", "Linesman", "Port manager")), "Ines Brandal");
        ObjectNode news =
                group("Company news", "mailing", who(titled("Marketing lead", "Writer", "Designer")), "Ines Brandal");
        ((ArrayNode) news.get("members")).add("group:harbour-letter").add("group:all-officers");
    }

    private void groupsByRule() {
        for (JsonNode written : company.get("groups-by-rule"))
            group(
                            written.get("name").asText(),
                            "access",
                            List.of(),
                            written.get("owner").asText())
                    .put("description", written.get("description").asText())
                    .put("rule", written.get("rule").asText());
    }

    /** What people and wheelhouses use; by turns, so that nothing else of the company depends on it. */
    private void devices() {
        List<String> languages = Json.MAPPER.convertValue(company.get("languages"), new TypeReference<>() {});
        for (ObjectNode account : accounts) {
            String id = account.get("id").asText();
            int turn = Math.floorMod(id.hashCode(), 60);
            String kind = account.get("kind").asText();
            if (kind.equals("person")) account.put("language", languages.get(turn % languages.size()));
            boolean isTablet = titled("Wheelhouse tablet").test(account);
            if (isTablet || kind.equals("person") && turn % 3 > 0) device(account, isTablet ? "tablet" : "phone", turn);
            if (kind.equals("person") && account.get("unit").asText().startsWith("shore-office"))
                device(account, "desk", turn + 7);
            if (titled("First mate", "Captain", "Crew scheduler").test(account)) device(account, "tablet", turn + 3);
        }
    }

    private void device(ObjectNode account, String kind, int turn) {
        ObjectNode device = account.withArray("/devices")
                .addObject()
                .put("id", account.get("id").asText() + "-" + kind)
                .put("kind", kind);
        if (kind.equals("tablet"))
            device.put("name", titled("Wheelhouse tablet").test(account) ? "Wheelhouse tablet" : "Deck tablet");
        ObjectNode apps = device.putObject("apps");
        for (JsonNode app : company.get("apps-on-devices"))
            apps.put(app.asText(), app.asText().equals("assistant") ? "2." + (turn % 4 + 2) : "5." + turn % 7);
        device.put("seen", LAST_DAY.minusDays(turn % 9) + "T07:30:00Z");
    }

    private void hostings() {
        for (JsonNode written : company.get("hostings")) {
            String name = written.get("name").asText();
            hostingIds.put(name, slug(name));
            ObjectNode hosting = estate.withArray("/hostings").addObject().put("id", slug(name));
            hosting.setAll((ObjectNode) written);
            hosting.putArray("keepers")
                    .add(who(titled(written.get("keepers").get(0).asText())).get(0));
        }
    }

    private void workspaces() {
        for (JsonNode written : company.get("workspaces")) {
            String name = written.get("name").asText();
            workspaceIds.put(name, slug(name));
            ObjectNode workspace = estate.withArray("/workspaces")
                    .addObject()
                    .put("id", slug(name))
                    .put("name", name);
            if (written.has("hosting"))
                workspace.put("hosting", hostingIds.get(written.get("hosting").asText()));
            else {
                workspace.set("size", written.get("size"));
                workspace.set("trial", written.get("trial"));
            }
            workspace
                    .putArray("stewards")
                    .add(who(titled(written.get("stewards").get(0).asText())).get(0));
            written.get("members")
                    .forEach(g -> workspace.withArray("/members").add("group:" + groupIds.get(g.asText())));
        }
    }

    /** Some of those who may have said yes to previews themselves. */
    private void consents() {
        consent("ivo.tarn", "dry-dock", "2026-09-02T08:30:00Z", 1);
        consent("ivo.tarn", "workbench", "2026-09-14T08:30:00Z", 1);
        List<String> builders = who(titled("Systems engineer"));
        consent(builders.get(0), "workbench", "2026-11-10T09:15:00Z", 2);
        consent(builders.get(1), "workbench", "2026-11-11T13:40:00Z", 2);
        consent("mirela.osk", "sea-trial", "2026-11-12T09:00:00Z");
        for (String account : who(titled("Systems engineer")))
            if (random.nextInt(2) == 0) consent(account, "harbour-trial", "2026-10-06T07:45:00Z");
        for (String account : who(titled("Crew scheduler", "Timetable planner")))
            if (random.nextInt(2) == 0) consent(account, "harbour-trial", "2026-10-19T10:10:00Z");
        for (String account : who(titled("Second officer", "Third officer", "Safety inspector")))
            if (!account.equals("mirela.osk") && random.nextInt(5) < 2)
                consent(account, "sea-trial", "2026-11-1" + random.nextInt(9) + "T14:20:00Z");
    }

    private void consent(String account, String ring, String at) {
        consent(account, ring, at, 0);
    }

    /** @param terms the version that was read; 0 where there were none */
    private void consent(String account, String ring, String at, int terms) {
        for (ObjectNode one : accounts) {
            if (!one.get("id").asText().equals(account)) continue;
            ObjectNode consent =
                    one.withArray("/consents").addObject().put("ring", ring).put("at", at);
            if (terms > 0) consent.put("terms", terms);
        }
    }

    /** The targets that a name stands for; a star stands for every unit on its level. */
    private List<String> targets(String named) {
        if (named.equals("organisation")) return List.of(named);
        String kind = named.substring(0, named.indexOf(':'));
        String name = named.substring(named.indexOf(':') + 1);
        if (kind.equals("unit"))
            return unitIds.entrySet().stream()
                    .filter(u -> u.getKey().matches(name.replace("*", "[^/]+")))
                    .map(u -> "unit:" + u.getValue())
                    .toList();
        Map<String, String> ids = switch (kind) {
            case "group" -> groupIds;
            case "account" -> accountIds;
            case "hosting" -> hostingIds;
            default -> workspaceIds;
        };
        if (!ids.containsKey(name))
            throw new IllegalStateException("The demo names " + named + ", which it does not make");
        return List.of(kind + ":" + ids.get(name));
    }

    private void assignments(JsonNode written, ArrayNode into) {
        for (JsonNode item : written) {
            String how = item.has("except") ? "except" : "include";
            for (String target :
                    targets(item.isTextual() ? item.asText() : item.get(how).asText())) {
                ObjectNode assignment = into.addObject().put(how, target);
                for (String end : List.of("from", "until", "off"))
                    if (item.has(end)) assignment.set(end, item.get(end));
                if (item.has("in"))
                    assignment.put("in", targets(item.get("in").asText()).get(0));
            }
        }
    }

    /** The catalogue has no picture of its own, so that it can be taken without one; the company has. */
    private void pictures() {
        for (JsonNode setting : estate.path("catalogue").path("settings")) {
            if (!setting.path("key").asText().equals("directory.sign-in-picture")) continue;
            byte[] content = bytes("harbour.svg");
            String sha256 = PictureContent.sha256(content);
            estate.withObject("/media").put(sha256, Base64.getEncoder().encodeToString(content));
            ((ObjectNode) setting)
                    .putObject("default")
                    .put("sha256", sha256)
                    .put("media", PictureContent.media(content).orElseThrow())
                    .put("alt", "A ferry off a low shore");
        }
    }

    private static byte[] bytes(String file) {
        try (InputStream in = DemoEstate.class.getResourceAsStream("/demo/" + file)) {
            return in.readAllBytes();
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    private void policies() {
        for (JsonNode written : data("policies.yaml")) {
            String id = slug(written.get("name").asText());
            ObjectNode policy = estate.withArray("/policies").addObject().put("id", id);
            policy.set("name", written.get("name"));
            for (String member : List.of("description", "state"))
                if (written.has(member)) policy.set(member, written.get(member));
            ArrayNode statements = policy.putArray("statements");
            written.get("says").fields().forEachRemaining(said -> {
                ObjectNode statement = statements.addObject().put("setting", said.getKey());
                statement.setAll((ObjectNode) said.getValue());
                if (PEOPLE.contains(said.getKey())) {
                    ArrayNode people = statement.putArray("set");
                    said.getValue()
                            .get("set")
                            .forEach(name -> targets(name.asText()).forEach(people::add));
                }
            });
            ArrayNode assignments = policy.putArray("assignments");
            assignments(written.get("for"), assignments);
            if (written.path("yard").asBoolean()) assignments.addObject().put("except", "group:shipyard-contractors");
            estate.withArray("/ranking").add(id);
        }
    }

    private void plans() {
        for (JsonNode written : company.get("plans")) {
            ObjectNode plan = estate.withArray("/plans")
                    .addObject()
                    .put("id", slug(written.get("name").asText()));
            plan.setAll((ObjectNode) written);
            ArrayNode rules = Json.NODES.arrayNode();
            assignments(written.get("rules"), rules);
            // Three were forgotten when the plan ended.
            if (plan.get("id").asText().equals("winter-plan"))
                who(titled("Painter")).stream()
                        .limit(3)
                        .forEach(a -> rules.addObject().put("include", "account:" + a));
            plan.set("rules", rules);
            plan.putArray("holders");
        }
        for (String account : who(titled("Painter"))) hold("winter-plan", account, "2022-03-01T08:00:00Z");
        for (String account : who(a -> a.get("unit").asText().startsWith("fleet-")
                && a.get("kind").asText().equals("person")))
            if (random.nextInt(3) > 0) hold("deck-plan", account, "2026-0" + (1 + random.nextInt(9)) + "-01T08:00:00Z");
        hold("deck-plan", "mirela.osk", "2026-02-01T08:00:00Z");
        for (String account : who(a -> a.get("unit").asText().startsWith("shore-office")
                && a.get("kind").asText().equals("person")))
            hold("desk-plan", account, "2026-0" + (1 + random.nextInt(9)) + "-05T08:00:00Z");
        for (String account : who(titled("First mate")).stream().limit(12).toList())
            hold("assistant-add-on", account, "2026-10-15T08:00:00Z");
    }

    private void hold(String plan, String account, String granted) {
        for (JsonNode candidate : estate.get("plans")) {
            if (!candidate.get("id").asText().equals(plan)) continue;
            for (JsonNode holder : candidate.get("holders"))
                if (holder.get("account").asText().equals(account)) return;
            ((ArrayNode) candidate.get("holders"))
                    .addObject()
                    .put("account", account)
                    .put("granted", granted);
        }
    }

    private void releases() {
        for (JsonNode written : company.get("releases")) {
            ObjectNode release = ((ObjectNode) written).deepCopy();
            for (JsonNode early : release.path("early"))
                ((ObjectNode) early).put("to", targets(early.get("to").asText()).get(0));
            estate.withArray("/releases").add(release);
        }
    }

    private List<ObjectNode> consented(String ring) {
        return accounts.stream()
                .filter(a -> a.path("consents").findValuesAsText("ring").contains(ring))
                .toList();
    }

    private void feedback() {
        int n = 0;
        for (JsonNode written : company.get("feedback")) {
            ObjectNode feedback = ((ObjectNode) written).deepCopy();
            List<ObjectNode> givers = consented(feedback.remove("ring").asText());
            feedback.put("id", "word-" + (n + 1));
            feedback.set("account", givers.get(n % givers.size()).get("id"));
            estate.withArray("/feedback").add(feedback);
            n++;
        }
    }

    private void asked() {
        for (JsonNode written : company.get("asked")) {
            List<String> titles = Json.MAPPER.convertValue(written.get("titles"), new TypeReference<>() {});
            List<ObjectNode> whom = accounts.stream()
                    .filter(a -> titles.contains(a.at("/attributes/title").asText()) && !a.has("consents"))
                    .limit(written.get("most").asInt())
                    .toList();
            for (ObjectNode account : whom) {
                ObjectNode asked = account.withArray("/asked").addObject();
                for (String member : List.of("ring", "at", "by", "text")) asked.set(member, written.get(member));
                if (account == whom.get(whom.size() - 1)) asked.set("declined", written.get("declined"));
            }
        }
    }
}
