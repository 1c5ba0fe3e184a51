package leanladder.workingcopy;

import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.Optional;
import java.util.Set;
import leanladder.estate.Account;
import leanladder.estate.Estate;
import leanladder.estate.read.EntityParsers;
import leanladder.estate.read.Section;
import leanladder.json.Json;
import leanladder.json.JsonCursor;

/** People, rooms, guests and services. */
final class AccountEntityType extends EntityType<Account> {
    static final String ASKED = "asked";
    private static final String DEVICES = "devices";

    AccountEntityType() {
        super(
                "account",
                Section.ACCOUNTS,
                Set.of(
                        "userName",
                        "displayName",
                        "kind",
                        "unit",
                        "active",
                        "started",
                        "consents",
                        ASKED,
                        "attributes",
                        "language",
                        DEVICES,
                        "lastSeen"));
    }

    @Override
    public Optional<Account> find(Estate estate, String id) {
        return estate.account(id);
    }

    @Override
    public Optional<Account> read(JsonCursor jsonCursor, Overlay on) {
        return EntityParsers.account(jsonCursor);
    }

    @Override
    public String name(Account account) {
        return account.displayName();
    }

    @Override
    public String idWords(ObjectNode body) {
        String address = body.path("userName").asText("");
        return address.contains("@") ? address.substring(0, address.indexOf('@')) : address;
    }

    @Override
    public ObjectNode shortBody(Account account) {
        ObjectNode body = Json.NODES
                .objectNode()
                .put("id", account.id())
                .put("userName", account.userName())
                .put("displayName", account.displayName())
                .put("kind", account.kind().word())
                .put("unit", account.unit())
                .put("active", account.active());
        account.started().ifPresent(day -> body.put("started", day.toString()));
        ArrayNode consents = body.putArray("consents");
        account.consents().forEach(c -> {
            ObjectNode consent =
                    consents.addObject().put(c.to().member(), c.id()).put("at", c.at().toString());
            c.until().ifPresent(until -> consent.put("until", until.toString()));
            if (c.terms() > 0) consent.put("terms", c.terms());
        });
        ArrayNode asked = account.asked().isEmpty() ? Json.NODES.arrayNode() : body.putArray(ASKED);
        account.asked().forEach(a -> {
            ObjectNode one = asked.addObject().put(a.to().member(), a.id()).put("at", a.at().toString());
            a.declined().ifPresent(no -> one.put("declined", no.toString()));
        });
        if (!account.attributes().isEmpty()) {
            ObjectNode attributes = body.putObject("attributes");
            account.attributes().forEach((name, texts) -> {
                if (texts.size() == 1) attributes.put(name, texts.get(0));
                else texts.forEach(attributes.putArray(name)::add);
            });
        }
        account.language().ifPresent(language -> body.put("language", language));
        ArrayNode devices = account.devices().isEmpty() ? Json.NODES.arrayNode() : body.putArray(DEVICES);
        account.devices().forEach(d -> devices.add(d.json()));
        account.lastSeen().ifPresent(day -> body.put("lastSeen", day.toString()));
        return body;
    }

    @Override
    public void check(JsonCursor whole, Overlay on) {
        read(whole, on)
                .filter(a -> !a.unit().isEmpty() && !on.hasUnit(a.unit()))
                .ifPresent(a -> unknown(whole.member("unit").orElseThrow(), "unit", a.unit()));
        for (JsonCursor device : whole.items(DEVICES))
            device.member("apps")
                    .filter(a -> a.node().isObject())
                    .ifPresent(apps -> apps.members().forEach((app, version) -> {
                        if (!on.frame().apps().containsKey(app)) unknown(version, "app", app);
                    }));
        for (JsonCursor consent : whole.items("consents")) {
            consent.member("ring")
                    .filter(r -> r.node().isTextual() && !on.hasRing(r.node().textValue()))
                    .ifPresent(r -> r.defect("names a ring that does not exist"));
            consent.member("release")
                    .filter(r -> r.node().isTextual() && !on.hasRelease(r.node().textValue()))
                    .ifPresent(r -> r.defect("names a release that does not exist"));
        }
        notBlank(whole, "displayName");
    }

    @Override
    public String insteadOfRemoval() {
        return "Deactivate the account, or take it out there first";
    }

    @Override
    public WriteSet footprint(String id, Optional<ObjectNode> members, Overlay before) {
        return WriteSet.ofAccount(id);
    }
}
