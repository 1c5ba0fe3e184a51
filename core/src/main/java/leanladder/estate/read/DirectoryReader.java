package leanladder.estate.read;

import com.fasterxml.jackson.databind.JsonNode;
import java.math.BigInteger;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import java.util.stream.Stream;
import leanladder.catalogue.AccountKind;
import leanladder.catalogue.AppVersion;
import leanladder.catalogue.CatalogueFrame;
import leanladder.catalogue.LanguageTag;
import leanladder.catalogue.Topology;
import leanladder.estate.Account;
import leanladder.estate.Consent;
import leanladder.estate.Device;
import leanladder.estate.Group;
import leanladder.estate.HiddenCharacters;
import leanladder.estate.Hosting;
import leanladder.estate.InternedIds;
import leanladder.estate.Invitation;
import leanladder.estate.Members;
import leanladder.estate.Nesting;
import leanladder.estate.Organisation;
import leanladder.estate.Unit;
import leanladder.estate.Workspace;
import leanladder.json.CodePointOrder;
import leanladder.json.Defects;
import leanladder.json.Instants;
import leanladder.json.Json;
import leanladder.json.JsonCursor;
import leanladder.rule.GroupRule;
import leanladder.rule.RuleSyntaxException;

/**
 * Reads organisation, units, accounts, groups and workspaces, and afterwards checks what they say of one another. Parts are
 * kept under their position in the file, so that a defect found late still names its place; an unreadable part is null.
 */
final class DirectoryReader {
    private static final String ACCOUNT = "account:";

    private static final ZoneId UTC = ZoneId.of("UTC");

    private static final String RULE = "rule";
    private static final String DEVICES = "devices";
    private static final String APPS = "apps";
    private static final String KEEPERS = "keepers";

    private static final Map<String, Boolean> STATES = Map.of("running", true, "paused", false);

    private static final Map<String, Boolean> PURPOSES = Map.of("access", true, "mailing", false);

    final IdReferences known = new IdReferences();
    final List<Unit> units = new ArrayList<>();
    final List<Account> accounts = new ArrayList<>();
    final List<Group> groups = new ArrayList<>();
    final List<Workspace> workspaces = new ArrayList<>();
    final List<Hosting> hostings = new ArrayList<>();
    private final List<ParsedMembers> groupMembers = new ArrayList<>();
    private final List<ParsedMembers> workspaceMembers = new ArrayList<>();
    private final Map<LocalDate, Optional<LocalDate>> days = new HashMap<>();
    private final Map<Object, Object> pool = new HashMap<>();
    private final Defects defects;
    private final boolean limitsDepth;

    /** @param limitsDepth whether what is nested too deep is a defect */
    DirectoryReader(Defects defects, boolean limitsDepth) {
        this.limitsDepth = limitsDepth;
        this.defects = defects;
    }

    Organisation organisation(JsonCursor jsonCursor) {
        if (!jsonCursor.isObject()) return new Organisation("", Optional.empty(), UTC);
        String name = jsonCursor.required("name").flatMap(JsonCursor::text).orElse("");
        jsonCursor
                .member("name")
                .filter(p -> p.node().isTextual() && p.node().textValue().isEmpty())
                .ifPresent(p -> p.defect("must not be empty"));
        Optional<String> region = jsonCursor.member("region").flatMap(JsonCursor::text);
        ZoneId zone = jsonCursor.member("timeZone").map(DirectoryReader::zone).orElse(UTC);
        return new Organisation(name, region, zone);
    }

    /** Names of the IANA database only: what else Java takes for a zone, such as an offset, browsers need not know. */
    private static ZoneId zone(JsonCursor jsonCursor) {
        Optional<String> text = jsonCursor.text();
        if (text.isPresent() && isKnown(text.get())) return ZoneId.of(text.get());
        if (text.isPresent())
            jsonCursor.warn("is no time zone known here, so days are counted in UTC; use a name such as Europe/Lisbon");
        return UTC;
    }

    private static boolean isKnown(String zone) {
        return ZoneId.getAvailableZoneIds().contains(zone) && !zone.startsWith("SystemV/");
    }

    /** The name in a member; one that can pass for another name is warned of. */
    private static Optional<String> name(JsonCursor jsonCursor, String member) {
        Optional<JsonCursor> named = jsonCursor.required(member);
        Optional<String> name = named.flatMap(JsonCursor::text);
        name.ifPresent(text -> warnOfHidden(named.get(), text));
        return name;
    }

    private static void warnOfHidden(JsonCursor name, String text) {
        HiddenCharacters.in(text)
                .ifPresent(hidden -> name.warn(
                        "holds the character " + hidden + ", which cannot be seen and lets it look like another name"));
    }

    /** One unit, by itself; empty when it has no id that can be read. */
    static Optional<Unit> readUnit(JsonCursor jsonCursor) {
        if (!jsonCursor.isObject()) return Optional.empty();
        Optional<String> id = jsonCursor.required("id").flatMap(JsonCursor::id);
        Optional<String> name = name(jsonCursor, "name");
        Optional<String> parent =
                jsonCursor.member("parent").filter(p -> !p.node().isNull()).flatMap(JsonCursor::id);
        return id.map(i -> new Unit(i, name.orElse(""), parent));
    }

    void unit(JsonCursor jsonCursor) {
        Optional<Unit> unit = readUnit(jsonCursor);
        unit.filter(u -> known.units.putIfAbsent(u.id(), u) != null).ifPresent(u -> jsonCursor.repeats(u.id()));
        units.add(unit.orElse(null));
    }

    /** One account, by itself; empty when it has no id that can be read. */
    static Optional<Account> readAccount(JsonCursor jsonCursor) {
        if (!jsonCursor.isObject()) return Optional.empty();
        Optional<String> id = jsonCursor.required("id").flatMap(JsonCursor::id);
        Optional<JsonCursor> userName = jsonCursor.required("userName");
        Optional<String> name = userName.flatMap(JsonCursor::text);
        name.filter(String::isEmpty).ifPresent(t -> userName.get().defect("must not be empty"));
        name.ifPresent(t -> warnOfHidden(userName.get(), t));
        Optional<String> displayName = name(jsonCursor, "displayName");
        Optional<AccountKind> kind = jsonCursor.required("kind").flatMap(p -> p.word(AccountKind.BY_WORD));
        Optional<String> unit = jsonCursor.required("unit").flatMap(JsonCursor::id);
        boolean active = jsonCursor.member("active").flatMap(JsonCursor::bool).orElse(true);
        Optional<LocalDate> started = jsonCursor.member("started").flatMap(JsonCursor::day);
        List<Consent> consents = new ArrayList<>();
        for (JsonCursor consent : jsonCursor.items("consents"))
            consents.add(consent(consent).orElse(null));
        Map<String, List<String>> attributes = attributes(jsonCursor);
        Optional<JsonCursor> tag = jsonCursor.member("language");
        Optional<String> language = tag.flatMap(JsonCursor::text);
        language.filter(String::isEmpty).ifPresent(l -> tag.orElseThrow().defect("must not be empty"));
        if (language.filter(l -> !LanguageTag.isWellFormed(l)).isPresent())
            tag.orElseThrow().warn("is no language tag (BCP 47), so that no text in several languages is found by it");
        List<Device> devices = devices(jsonCursor);
        return id.map(i -> new Account(
                i,
                name.orElse(""),
                displayName.orElse(""),
                kind.orElse(AccountKind.PERSON),
                unit.orElse(""),
                active,
                started,
                consents.isEmpty() ? List.of() : consents,
                asked(jsonCursor),
                attributes,
                language,
                devices,
                lastSeen(jsonCursor)));
    }

    void account(JsonCursor jsonCursor) {
        account(jsonCursor, readAccount(jsonCursor));
    }

    /** Takes an account that was read. */
    void account(JsonCursor jsonCursor, Optional<Account> read) {
        Optional<Account> account = read.map(this::shared);
        account.filter(a -> !known.accounts.add(a.id())).ifPresent(a -> jsonCursor.repeats(a.id()));
        accounts.add(account.orElse(null));
    }

    /** The same account with the texts and days that many accounts have held once. */
    private Account shared(Account a) {
        Unit unit = known.units.get(a.unit());
        return new Account(
                a.id(),
                a.userName(),
                a.displayName(),
                a.kind(),
                unit == null ? a.unit() : unit.id(),
                a.active(),
                shared(a.started()),
                a.consents(),
                a.asked(),
                pooled(a.attributes()),
                a.language().map(this::pooled),
                a.devices().isEmpty()
                        ? List.of()
                        : a.devices().stream().map(this::shared).toList(),
                shared(a.lastSeen()));
    }

    private Device shared(Device d) {
        return new Device(d.id(), pooled(d.kind()), d.name(), pooled(d.apps()), d.seen());
    }

    /** The first of equal things that was met. */
    @SuppressWarnings("unchecked")
    private <T> T pooled(T thing) {
        return (T) pool.computeIfAbsent(thing, t -> t);
    }

    private Optional<LocalDate> shared(Optional<LocalDate> day) {
        return day.isEmpty() ? day : days.computeIfAbsent(day.get(), Optional::of);
    }

    /** A day, or an instant, of which the day counts; whatever else stands there says nothing. */
    private static Optional<LocalDate> lastSeen(JsonCursor account) {
        String text = account.node().path("lastSeen").asText("");
        return text.isEmpty()
                ? Optional.empty()
                : Instants.day(text)
                        .or(() -> Instants.instant(text)
                                .map(at -> at.atOffset(ZoneOffset.UTC).toLocalDate()));
    }

    /** A consent; whether what it is given to exists is looked at when all is known. */
    static Optional<Consent> consent(JsonCursor jsonCursor) {
        if (!jsonCursor.isObject()) return Optional.empty();
        Optional<JsonCursor> ring = jsonCursor.member(Consent.ConsentTarget.RING.member());
        Optional<JsonCursor> release = jsonCursor.member(Consent.ConsentTarget.RELEASE.member());
        if (ring.isPresent() == release.isPresent()) {
            jsonCursor.defect("must name either a ring or a release");
            return Optional.empty();
        }
        Optional<String> id = ring.isPresent() ? ring.flatMap(JsonCursor::id) : release.flatMap(JsonCursor::key);
        Optional<Instant> at = jsonCursor.required("at").flatMap(JsonCursor::instant);
        Optional<JsonCursor> end = jsonCursor.member("until");
        Optional<Instant> until = end.flatMap(JsonCursor::instant);
        int terms = jsonCursor.member("terms").map(t -> whole(t, 0)).orElse(0);
        if (at.isPresent() && until.filter(u -> !u.isAfter(at.get())).isPresent())
            end.orElseThrow().defect("must come after the instant at which it was given");
        return id.isEmpty() || at.isEmpty()
                ? Optional.empty()
                : Optional.of(new Consent(
                        ring.isPresent() ? Consent.ConsentTarget.RING : Consent.ConsentTarget.RELEASE,
                        id.get(),
                        at.get(),
                        until,
                        terms));
    }

    /** A whole number that is not below another; what does not fit is reported, and the least taken. */
    static int whole(JsonCursor jsonCursor, int least) {
        Optional<BigInteger> number = jsonCursor.integer();
        boolean fits = number.filter(n -> n.bitLength() < Integer.SIZE && n.intValue() >= least)
                .isPresent();
        if (number.isPresent() && !fits) jsonCursor.defect("must lie between " + least + " and " + Integer.MAX_VALUE);
        return fits ? number.get().intValue() : least;
    }

    /** To what an account was asked to come; whether that exists is not looked at, for it decides nothing. */
    private static List<Invitation> asked(JsonCursor account) {
        List<Invitation> all = List.of();
        for (JsonCursor item : account.items("asked")) {
            if (!item.isObject()) continue;
            Optional<JsonCursor> ring = item.member(Consent.ConsentTarget.RING.member());
            Optional<JsonCursor> release = item.member(Consent.ConsentTarget.RELEASE.member());
            if (ring.isPresent() == release.isPresent()) item.defect("must name either a ring or a release");
            Optional<String> id = ring.isPresent() ? ring.flatMap(JsonCursor::id) : release.flatMap(JsonCursor::key);
            Optional<Instant> at = item.required("at").flatMap(JsonCursor::instant);
            Optional<Instant> declined = item.member("declined").flatMap(JsonCursor::instant);
            if (id.isEmpty() || at.isEmpty()) continue;
            if (all.isEmpty()) all = new ArrayList<>(1);
            all.add(new Invitation(
                    ring.isPresent() ? Consent.ConsentTarget.RING : Consent.ConsentTarget.RELEASE,
                    id.get(),
                    at.get(),
                    declined));
        }
        return all;
    }

    /** What rules of groups can ask: texts, lists of texts, and booleans and whole numbers as JSON writes them. */
    private static Map<String, List<String>> attributes(JsonCursor account) {
        Optional<JsonCursor> all = account.member("attributes").filter(JsonCursor::isObject);
        if (all.isEmpty()) return Map.of();
        Map<String, List<String>> attributes = new HashMap<>();
        all.get().members().forEach((name, attribute) -> {
            List<String> texts = attributeTexts(attribute);
            if (!texts.isEmpty()) attributes.put(name, texts);
        });
        return Map.copyOf(attributes);
    }

    private static List<String> attributeTexts(JsonCursor attribute) {
        JsonNode node = attribute.node();
        if (node.isArray())
            return attribute.items().stream().flatMap(i -> i.text().stream()).toList();
        if (node.isTextual() || node.isBoolean() || node.isIntegralNumber()) return List.of(node.asText());
        attribute.defect("must be a text, a list of texts, true, false or a whole number");
        return List.of();
    }

    /** What the account uses; whether the catalogue lists the apps is looked at when all is known. */
    private static List<Device> devices(JsonCursor account) {
        List<Device> devices = new ArrayList<>(0);
        Set<String> ids = new HashSet<>();
        for (JsonCursor item : account.items(DEVICES)) {
            if (!item.isObject()) continue;
            Optional<String> id = item.required("id").flatMap(JsonCursor::id);
            id.filter(i -> !ids.add(i)).ifPresent(item::repeats);
            Optional<JsonCursor> kindPlace = item.required("kind");
            Optional<String> kind = kindPlace.flatMap(JsonCursor::text);
            kind.filter(String::isEmpty).ifPresent(k -> kindPlace.get().defect("must not be empty"));
            Optional<String> name = item.member("name").flatMap(JsonCursor::text);
            Map<String, AppVersion> apps = new HashMap<>();
            item.member(APPS)
                    .filter(JsonCursor::isObject)
                    .ifPresent(all -> all.members()
                            .forEach((app, version) -> AppVersion.read(version).ifPresent(v -> apps.put(app, v))));
            Optional<Instant> seen = item.member("seen").flatMap(JsonCursor::instant);
            id.ifPresent(i -> devices.add(new Device(i, kind.orElse(""), name, Map.copyOf(apps), seen)));
        }
        return devices.isEmpty() ? List.of() : devices;
    }

    /** The rule of a group; whether what it names exists is looked at when all is known. */
    private static Optional<GroupRule> rule(JsonCursor group) {
        Optional<JsonCursor> place = group.member(RULE);
        Optional<String> text = place.flatMap(JsonCursor::text);
        if (text.isEmpty()) return Optional.empty();
        try {
            return Optional.of(GroupRule.parse(text.get()));
        } catch (RuleSyntaxException e) {
            place.get().defect("is no rule, at character " + e.position() + ": " + e.getMessage());
            return Optional.empty();
        }
    }

    /** Reports units and groups that a rule names and that do not exist. */
    static void checkRule(GroupRule rule, JsonCursor place, References known) {
        rule.units()
                .filter(u -> !known.hasUnit(u.unit()))
                .forEach(u -> place.defect(
                        "names the unit \"" + u.unit() + "\" at character " + u.position() + ", which does not exist"));
        rule.groups()
                .filter(g -> known.isAccessGroup(g.group()).isEmpty())
                .forEach(g -> place.defect("names the group \"" + g.group() + "\" at character " + g.position()
                        + ", which does not exist"));
    }

    /** One group, by itself and without its members; empty when it has no id that can be read. */
    static Optional<Group> readGroup(JsonCursor jsonCursor) {
        if (!jsonCursor.isObject()) return Optional.empty();
        Optional<String> id = jsonCursor.required("id").flatMap(JsonCursor::id);
        Optional<String> name = name(jsonCursor, "name");
        Optional<Boolean> access = jsonCursor.required("purpose").flatMap(p -> p.word(PURPOSES));
        List<String> owners = ids(jsonCursor, "owners");
        jsonCursor.member("description").ifPresent(JsonCursor::text);
        Optional<GroupRule> rule = rule(jsonCursor);
        return id.map(i -> new Group(i, name.orElse(""), access.orElse(true), owners, Members.NOBODY, rule));
    }

    /** A group and its members as they were read, not yet held against the others. */
    record ParsedGroup(Optional<Group> group, ParsedMembers members) {}

    /**
     * Reads a group, and looks its members up among the accounts that were met so far. Many threads may do so at once while nothing
     * else is read.
     *
     * @param apart members that were read by themselves; none where they stand in the place
     */
    ParsedGroup read(JsonCursor jsonCursor, MemberIdPool apart) {
        Optional<Group> group = readGroup(jsonCursor);
        return new ParsedGroup(
                group,
                apart.size() > 0
                        ? listed(apart, jsonCursor)
                        : jsonCursor.node().isObject() ? listed(jsonCursor) : ParsedMembers.NOBODY);
    }

    /** Takes a group that was read. */
    void group(JsonCursor jsonCursor, ParsedGroup read) {
        groupMembers.add(read.members);
        read.group.filter(g -> known.groups.putIfAbsent(g.id(), g) != null).ifPresent(g -> jsonCursor.repeats(g.id()));
        groups.add(read.group.orElse(null));
    }

    void workspace(JsonCursor jsonCursor) {
        Optional<Workspace> workspace = readWorkspace(jsonCursor);
        workspaceMembers.add(jsonCursor.node().isObject() ? listed(jsonCursor) : ParsedMembers.NOBODY);
        workspace.filter(w -> !known.workspaces.add(w.id())).ifPresent(w -> jsonCursor.repeats(w.id()));
        workspaces.add(workspace.orElse(null));
    }

    /** One workspace, by itself and without its members; empty when it has no id that can be read. */
    static Optional<Workspace> readWorkspace(JsonCursor jsonCursor) {
        if (!jsonCursor.isObject()) return Optional.empty();
        Optional<String> id = jsonCursor.required("id").flatMap(JsonCursor::id);
        Optional<String> name = jsonCursor.required("name").flatMap(JsonCursor::text);
        Optional<JsonCursor> own = jsonCursor.member("size");
        Optional<JsonCursor> shared = jsonCursor.member("hosting");
        if (own.isPresent() == shared.isPresent())
            jsonCursor.defect("must say either \"hosting\", on which it runs, or the \"size\" of a hosting of its own");
        Optional<String> size = own.flatMap(JsonCursor::text);
        Optional<String> hosting = shared.flatMap(JsonCursor::id);
        Optional<JsonCursor> trialPlace = jsonCursor.member("trial");
        boolean trial = trialPlace.flatMap(JsonCursor::bool).orElse(false);
        if (shared.isPresent())
            trialPlace.ifPresent(
                    t -> t.defect("must not stand beside \"hosting\"; the hosting says whether it is a trial"));
        List<String> stewards = ids(jsonCursor, "stewards");
        return id.map(i -> new Workspace(i, name.orElse(""), hosting, size, trial, stewards, Members.NOBODY));
    }

    /** One hosting, by itself; empty when it has no id that can be read. */
    static Optional<Hosting> readHosting(JsonCursor jsonCursor) {
        if (!jsonCursor.isObject()) return Optional.empty();
        Optional<String> id = jsonCursor.required("id").flatMap(JsonCursor::id);
        Optional<String> name = name(jsonCursor, "name");
        Optional<String> size = jsonCursor.required("size").flatMap(JsonCursor::text);
        boolean trial = jsonCursor.member("trial").flatMap(JsonCursor::bool).orElse(false);
        boolean running =
                jsonCursor.member("state").flatMap(p -> p.word(STATES)).orElse(true);
        jsonCursor.member("note").ifPresent(JsonCursor::text);
        List<String> keepers = ids(jsonCursor, KEEPERS);
        return id.map(i -> new Hosting(i, name.orElse(""), size.orElse(""), trial, running, keepers));
    }

    void hosting(JsonCursor jsonCursor) {
        Optional<Hosting> hosting = readHosting(jsonCursor);
        hosting.filter(h -> !known.hostings.add(h.id())).ifPresent(h -> jsonCursor.repeats(h.id()));
        hostings.add(hosting.orElse(null));
    }

    private static List<String> ids(JsonCursor jsonCursor, String member) {
        return jsonCursor.items(member).stream().map(p -> p.id().orElse("")).toList();
    }

    /** A member that was not known yet when the list was read, and its position there. */
    private record DeferredReference(int index, boolean isGroup, String id) {}

    /** Members as a list names them; whether the late ones exist is looked at in the end. */
    private record ParsedMembers(Members members, List<DeferredReference> late) {
        static final ParsedMembers NOBODY = new ParsedMembers(Members.NOBODY, List.of());
    }

    private ParsedMembers listed(JsonCursor jsonCursor) {
        JsonNode list = jsonCursor.node().path("members");
        if (list.isArray()) return listed(MemberIdPool.from(list), jsonCursor);
        jsonCursor.items("members");
        return ParsedMembers.NOBODY;
    }

    /** @param place of whom they are the members */
    private ParsedMembers listed(MemberIdPool texts, JsonCursor jsonCursor) {
        int[] met = texts.find(known.accounts, ACCOUNT);
        List<String> inGroups = new ArrayList<>(0);
        List<DeferredReference> late = new ArrayList<>(0);
        for (int i = 0; i < met.length; i++) {
            if (met[i] >= 0) continue;
            JsonNode element = texts.element(i);
            String text = element.textValue();
            if (text != null && text.startsWith(ACCOUNT) && text.length() > ACCOUNT.length()) {
                late.add(new DeferredReference(i, false, text.substring(ACCOUNT.length())));
            } else if (text != null && text.startsWith("group:") && text.length() > 6) {
                String id = text.substring(6);
                late.add(new DeferredReference(i, true, id));
                inGroups.add(id);
            } else member(new JsonCursor(element, jsonCursor.pointer() + "/members/" + i, jsonCursor.defects()));
        }
        return new ParsedMembers(new Members(accounts(met, late), List.copyOf(inGroups)), late);
    }

    /** The accounts of a list, in its order: those that were met, and those that come late. */
    private List<String> accounts(int[] met, List<DeferredReference> late) {
        List<DeferredReference> lateAccounts =
                late.stream().filter(l -> !l.isGroup).toList();
        if (lateAccounts.isEmpty())
            return new InternedIds(
                    known.accounts.ids(),
                    Arrays.stream(met).allMatch(m -> m >= 0)
                            ? met
                            : Arrays.stream(met).filter(m -> m >= 0).toArray());
        List<String> all = new ArrayList<>(met.length);
        int next = 0;
        for (int i = 0; i < met.length; i++)
            if (met[i] >= 0) all.add(known.accounts.ids().get(met[i]));
            else if (next < lateAccounts.size() && lateAccounts.get(next).index == i)
                all.add(lateAccounts.get(next++).id);
        return List.copyOf(all);
    }

    /** A member as it is written; a defect, and empty, when it is none. */
    private static Optional<String> member(JsonCursor item) {
        Optional<String> text = item.text();
        boolean fits = text.filter(
                        t -> t.startsWith("account:") && t.length() > 8 || t.startsWith("group:") && t.length() > 6)
                .isPresent();
        if (text.isPresent() && !fits) item.defect("must be account:ID or group:ID, but is \"" + text.get() + "\"");
        return fits ? text : Optional.empty();
    }

    /** The members that items name; what does not fit is reported and left out. */
    static Members members(List<JsonCursor> items) {
        return Members.parse(items.stream().flatMap(i -> member(i).stream()).toList());
    }

    /** The members of a list, after those who do not exist were reported. */
    private Members members(String pointer, ParsedMembers parsedMembers) {
        for (DeferredReference deferredReference : parsedMembers.late)
            if (deferredReference.isGroup
                    ? known.isAccessGroup(deferredReference.id).isEmpty()
                    : !known.hasAccount(deferredReference.id))
                unknown(
                        pointer + "/" + deferredReference.index,
                        deferredReference.isGroup ? "group" : "account",
                        deferredReference.id);
        return parsedMembers.members;
    }

    private void unknown(String pointer, String what, String id) {
        defects.add(pointer, "names the " + what + " \"" + id + "\", which does not exist");
    }

    /** Checks references within the directory, the shape of the tree and the nesting of groups. */
    void check(CatalogueFrame catalogue) {
        List<String> sizes = catalogue.sizes();
        checkTree();
        for (int i = 0; i < accounts.size(); i++) {
            Account account = accounts.get(i);
            if (account != null && !account.unit().isEmpty() && !known.hasUnit(account.unit()))
                unknown("/accounts/" + i + "/unit", "unit", account.unit());
            if (account != null) checkDevices("/accounts/" + i + "/devices", account, catalogue);
        }
        for (int i = 0; i < groups.size(); i++) {
            String at = "/groups/" + i;
            Members members = members(at + "/members", groupMembers.get(i));
            Group group = groups.get(i);
            if (group == null) continue;
            checkAccounts(at + "/owners", group.owners());
            group.rule()
                    .ifPresent(rule -> checkRule(
                            rule, new JsonCursor(Json.NODES.textNode(rule.text()), at + "/" + RULE, defects), known));
            groups.set(i, new Group(group.id(), group.name(), group.access(), group.owners(), members, group.rule()));
        }
        for (int i = 0; i < workspaces.size(); i++) {
            String at = "/workspaces/" + i;
            Members members = members(at + "/members", workspaceMembers.get(i));
            Workspace w = workspaces.get(i);
            if (w == null) continue;
            checkAccounts(at + "/stewards", w.stewards());
            w.size().filter(size -> !sizes.contains(size)).ifPresent(size -> unknown(at + "/size", "size", size));
            w.hosting().filter(h -> !known.hasHosting(h)).ifPresent(h -> unknown(at + "/hosting", "hosting", h));
            workspaces.set(i, new Workspace(w.id(), w.name(), w.hosting(), w.size(), w.trial(), w.stewards(), members));
        }
        for (int i = 0; i < hostings.size(); i++) {
            Hosting h = hostings.get(i);
            if (h == null) continue;
            checkAccounts("/hostings/" + i + "/" + KEEPERS, h.keepers());
            if (!h.size().isEmpty() && !sizes.contains(h.size())) unknown("/hostings/" + i + "/size", "size", h.size());
        }
        checkNesting();
    }

    private void checkDevices(String pointer, Account account, CatalogueFrame catalogue) {
        for (int i = 0; i < account.devices().size(); i++)
            for (String app : account.devices().get(i).apps().keySet())
                if (!catalogue.apps().containsKey(app))
                    unknown(JsonCursor.pointer(pointer + "/" + i + "/" + APPS, app), "app", app);
    }

    private void checkAccounts(String pointer, List<String> ids) {
        for (int i = 0; i < ids.size(); i++)
            if (!ids.get(i).isEmpty() && !known.hasAccount(ids.get(i)))
                unknown(pointer + "/" + i, "account", ids.get(i));
    }

    private void checkTree() {
        List<Integer> roots = new ArrayList<>();
        for (int i = 0; i < units.size(); i++) {
            Unit unit = units.get(i);
            if (unit == null) continue;
            if (unit.parent().isEmpty()) roots.add(i);
            else if (!known.hasUnit(unit.parent().get()))
                unknown("/units/" + i + "/parent", "unit", unit.parent().get());
        }
        if (roots.isEmpty() && !units.isEmpty())
            defects.add("/units", "has no root: exactly one unit must be without a parent; it is the organisation");
        roots.stream()
                .skip(1)
                .forEach(i -> defects.add(
                        "/units/" + i,
                        "is a second root beside \"" + units.get(roots.get(0)).id()
                                + "\"; give it a parent, for only the organisation has none"));
        Map<String, Integer> at = new HashMap<>();
        for (int i = units.size() - 1; i >= 0; i--)
            if (units.get(i) != null) at.put(units.get(i).id(), i);
        checkShape(
                at,
                id -> Objects.requireNonNull(known.units.get(id)).parent().filter(known::hasUnit).stream()
                        .toList(),
                "units",
                "parent",
                "stands");
    }

    private void checkNesting() {
        Map<String, Integer> at = new HashMap<>();
        for (int i = groups.size() - 1; i >= 0; i--)
            if (groups.get(i) != null) at.put(groups.get(i).id(), i);
        checkShape(
                at,
                id -> groups.get(Objects.requireNonNull(at.get(id))).members().groups().stream()
                        .filter(at::containsKey)
                        .toList(),
                "groups",
                "members",
                "is nested");
        checkRuleCycles(at);
    }

    /** Groups that depend on themselves through members and through what their rules ask. */
    private void checkRuleCycles(Map<String, Integer> at) {
        Function<String, List<String>> pointsTo = id -> {
            Group group = groups.get(Objects.requireNonNull(at.get(id)));
            return Stream.concat(
                            group.members().groups().stream(),
                            group.rule().stream().flatMap(r -> r.groupIds().stream()))
                    .filter(at::containsKey)
                    .toList();
        };
        if (groups.stream().noneMatch(g -> g != null && g.rule().isPresent())) return;
        List<String> ids = at.keySet().stream().sorted(CodePointOrder.TEXTS).toList();
        List<String> cycle = Topology.order(ids, pointsTo).cycle();
        boolean byRule = cycle.stream()
                .anyMatch(id ->
                        groups.get(Objects.requireNonNull(at.get(id))).rule().isPresent());
        if (byRule && defects.isEmpty())
            defects.add(
                    "/groups/" + at.get(cycle.get(0)),
                    "closes a cycle of groups through members and rules: " + String.join(" → ", cycle));
    }

    /**
     * Reports a cycle, or where there is none, what is too deep: the first level that is, and not all below it.
     *
     * @param at positions in the list by id
     */
    private void checkShape(
            Map<String, Integer> at,
            Function<String, List<String>> pointsTo,
            String list,
            String member,
            String stands) {
        List<String> ids = at.keySet().stream().sorted(CodePointOrder.TEXTS).toList();
        List<String> cycle = Topology.order(ids, pointsTo).cycle();
        if (!cycle.isEmpty())
            defects.add(
                    "/" + list + "/" + at.get(cycle.get(0)) + "/" + member,
                    "closes a cycle of " + list + ": " + String.join(" → ", cycle));
        else if (limitsDepth)
            Nesting.levels(ids, pointsTo).forEach((id, level) -> {
                if (level == Nesting.MOST + 1)
                    defects.add(
                            "/" + list + "/" + at.get(id) + "/" + member,
                            stands + " more than " + Nesting.MOST + " levels deep; at most " + Nesting.MOST
                                    + " are possible");
            });
    }
}
