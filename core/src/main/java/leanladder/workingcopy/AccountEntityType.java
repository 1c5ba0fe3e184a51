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
        });
        ArrayNode asked = account.asked().isEmpty() ? Json.NODES.arrayNode() : body.putArray(ASKED);
        account.asked().forEach(a -> {
            ObjectNode one = asked.addObject().put(a.to().member(), a.id()).put("at", a.at().toString());
            a.declined().ifPresent(no -> one.put("declined", no.toString()));
        });
        account.title().ifPresent(t -> body.putObject("attributes").put("title", t));
        account.lastSeen().ifPresent(day -> body.put("lastSeen", day.toString()));
        return body;
    }

    @Override
    public void check(JsonCursor whole, Overlay on) {
        read(whole, on)
                .filter(a -> !a.unit().isEmpty() && !on.hasUnit(a.unit()))
                .ifPresent(a -> unknown(whole.member("unit").orElseThrow(), "unit", a.unit()));
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
