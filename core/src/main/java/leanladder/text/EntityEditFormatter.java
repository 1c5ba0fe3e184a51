package leanladder.text;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.time.LocalDate;
import java.time.format.DateTimeParseException;
import java.util.List;
import java.util.Objects;
import java.util.Optional;
import java.util.function.Function;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import java.util.stream.StreamSupport;
import leanladder.catalogue.AccountKind;
import leanladder.catalogue.Setting;
import leanladder.edit.EditKind;
import leanladder.edit.directory.AddEntity;
import leanladder.edit.directory.AddMembers;
import leanladder.edit.directory.EntityEdit;
import leanladder.edit.directory.MembersEdit;
import leanladder.edit.directory.RemoveEntity;
import leanladder.edit.directory.UpdateEntity;
import leanladder.estate.Members;
import leanladder.json.Instants;
import leanladder.workingcopy.EntityType;
import leanladder.workingcopy.Overlay;

/** Describes edits that add, change or remove an entity of the estate, and the members of groups. */
final class EntityEditFormatter {
    private static final int FEW = 3;

    private final EstateFormatter estateFormatter;

    EntityEditFormatter(EstateFormatter estateFormatter) {
        this.estateFormatter = estateFormatter;
    }

    String format(EntityEdit edit, Overlay before) {
        if (edit instanceof AddEntity add) return added(add.type(), add.entity(), before);
        String name = before.name(edit.type(), edit.id());
        if (edit instanceof RemoveEntity) return name + " is removed";
        if (edit instanceof UpdateEntity update)
            return name + " "
                    + update.members().properties().stream()
                            .map(m -> changed(update, m.getKey(), m.getValue(), before))
                            .collect(Collectors.joining(" and "));
        return members((MembersEdit) edit, name, before);
    }

    private static String members(MembersEdit edit, String group, Overlay before) {
        Members who = Members.parse(edit.who());
        if (edit instanceof AddMembers)
            who = before.members(edit.group()).orElseThrow().absentOf(who);
        List<String> names = Stream.concat(
                        who.accounts().stream().map(a -> before.name(EntityType.ACCOUNT, a)),
                        who.groups().stream().map(g -> "the group " + before.name(EntityType.GROUP, g)))
                .toList();
        String all = names.isEmpty()
                ? "nobody new"
                : names.size() <= FEW ? String.join(", ", names) : names.size() + " members";
        String does = edit instanceof AddMembers ? "join" : "leave";
        return all + " " + does + (names.size() == 1 ? "s " : " ") + group;
    }

    PluralText count(EditKind kind) {
        Optional<EntityType<?>> type = kind.entityType();
        if (type.isEmpty()) return new PluralText("members of one group change", "members of # groups change");
        String does =
                kind.type() == AddEntity.class ? "new" : kind.type() == RemoveEntity.class ? "removed" : "changed";
        return new PluralText(
                "one " + type.get().noun() + " is " + does,
                "# " + type.get().section().member() + " are " + does);
    }

    private String added(EntityType<?> type, ObjectNode body, Overlay before) {
        String name = body.path("name").asText();
        return switch (type.section()) {
            case UNITS ->
                name + " is a new unit below "
                        + before.placeName(body.path("parent").asText());
            case ACCOUNTS ->
                body.path("displayName").asText() + " is a new "
                        + body.path("kind").asText() + " in "
                        + before.placeName(body.path("unit").asText());
            case GROUPS -> {
                int members = body.path("members").size();
                yield name + " is a new " + body.path("purpose").asText() + " group"
                        + (members == 0 ? "" : members == 1 ? " with one member" : " with " + members + " members");
            }
            case WORKSPACES ->
                name + " is a new workspace "
                        + (body.has("hosting")
                                ? "on "
                                        + before.name(
                                                EntityType.HOSTING,
                                                body.path("hosting").asText())
                                : "of size " + body.path("size").asText())
                        + (body.path("trial").asBoolean() ? ", on trial" : "");
            case HOSTINGS ->
                name + " is a new hosting of size " + body.path("size").asText()
                        + (body.path("trial").asBoolean() ? ", on trial" : "");
            case PLANS -> name + " is a new licence plan with " + seats(body);
            case RELEASES -> title(body.path("setting").asText(), before) + " has a release now";
            case FEEDBACK -> {
                String release = title(body.path("release").asText(), before);
                yield before.name(EntityType.ACCOUNT, body.path("account").asText())
                        + switch (body.path("verdict").asText()) {
                            case "works" -> " finds that " + release + " works";
                            case "fails" -> " finds that " + release + " does not work";
                            default -> " has an idea for " + release;
                        };
            }
            default -> body.path("title").asText() + " is a new " + type.noun();
        };
    }

    private static String title(String setting, Overlay before) {
        return before.setting(setting).map(Setting::title).orElse(setting);
    }

    private static String seats(JsonNode body) {
        long seats = body.path("seats").asLong();
        for (JsonNode purchase : body.path("purchases"))
            seats += purchase.path("seats").asLong();
        return seats == 1 ? "one seat" : seats + " seats";
    }

    private String changed(UpdateEntity edit, String member, JsonNode value, Overlay before) {
        EntityType<?> type = edit.type();
        if (member.equals("name")) return "is called " + value.asText();
        return switch (type.section()) {
            case UNITS -> "moves to " + before.placeName(value.asText());
            case ACCOUNTS -> changedAccount(member, value, before);
            case GROUPS -> changedGroup(member, value, before);
            case HOSTINGS -> changedHosting(member, value, before);
            case WORKSPACES -> changedWorkspace(member, value, before);
            case PLANS -> changedPlan(member, value, before);
            case RELEASES -> changedRelease(member, value, before);
            case FEEDBACK -> value.isNull() ? "is open again" : "is dealt with";
            default -> changedSetting(edit.id(), member, value, before);
        };
    }

    private String changedSetting(String key, String member, JsonNode value, Overlay before) {
        return switch (member) {
            case "openToWorkspaces" -> value.asBoolean() ? "is open to workspaces" : "is closed to workspaces";
            case "title" -> "is called " + value.asText();
            case "default" ->
                before.setting(key)
                        .flatMap(s -> s.type().read(value, defect -> {}))
                        .map(v -> "has the built-in value " + estateFormatter.value(v))
                        .orElse("has another built-in value");
            case "options", "min", "max" -> "can take other values";
            case "ordered", "strict" -> "has another order of strictness";
            case "needs" -> value.isEmpty() ? "needs nothing any more" : "has other needs";
            case "fallback" -> "has another value while it is blocked";
            case "merge" -> "has another rule for ties";
            case "settles" -> "has another arrival time";
            case "app" -> "belongs to another app";
            case "words" -> "is found by other words";
            default -> "has another " + member;
        };
    }

    private static String changedAccount(String member, JsonNode value, Overlay before) {
        return switch (member) {
            case "displayName" -> "is called " + value.asText();
            case "unit" -> "moves to " + before.placeName(value.asText());
            case "active" -> value.asBoolean() ? "is active again" : "is deactivated";
            case "userName" -> "has the address " + value.asText();
            case "kind" -> "is a " + value.asText();
            case "started" -> value.isNull() ? "no longer has a start" : "started on " + value.asText();
            case "lastSeen" -> value.isNull() ? "was never seen" : "was last seen on " + value.asText();
            case "attributes" -> "has the title " + value.path("title").asText("none");
            case "language" -> value.isNull() ? "no longer names a language" : "reads " + value.asText();
            case "devices" ->
                value.isEmpty()
                        ? "has no device"
                        : value.size() == 1 ? "has one device" : "has " + value.size() + " devices";
            default -> "has other " + member;
        };
    }

    private static String changedGroup(String member, JsonNode value, Overlay before) {
        return switch (member) {
            case "purpose" -> "becomes " + (value.asText().equals("access") ? "an access group" : "a mailing group");
            case "rule" -> value.isNull() ? "no longer has a rule" : "has the rule: " + value.asText();
            case "description" -> value.isNull() ? "loses its description" : "is described anew";
            default -> value.isEmpty() ? "no longer has an owner" : "is owned by " + accounts(value, before);
        };
    }

    private static String changedHosting(String member, JsonNode value, Overlay before) {
        return switch (member) {
            case "size" -> "has size " + value.asText();
            case "trial" -> value.asBoolean() ? "is on trial" : "is no longer on trial";
            case "state" -> value.asText().equals("paused") ? "is paused" : "runs again";
            case "keepers" -> value.isEmpty() ? "is kept by nobody" : "is kept by " + accounts(value, before);
            default -> "has another " + member;
        };
    }

    private static String changedWorkspace(String member, JsonNode value, Overlay before) {
        return switch (member) {
            case "hosting" ->
                value.isNull() ? "leaves its hosting" : "runs on " + before.name(EntityType.HOSTING, value.asText());
            case "size" -> value.isNull() ? "has no size of its own" : "has hosting of size " + value.asText();
            case "trial" -> value.asBoolean() ? "is on trial" : "is no longer on trial";
            case "stewards" -> value.isEmpty() ? "no longer has a steward" : "is owned by " + accounts(value, before);
            case "members" -> "has " + (value.size() == 1 ? "one member" : value.size() + " members");
            default -> "has other " + member;
        };
    }

    private String changedPlan(String member, JsonNode value, Overlay before) {
        return switch (member) {
            case "seats" -> value.isNull() ? "has its seats by purchases" : "has " + value.asText() + " seats";
            case "purchases" -> value.isNull() ? "has a plain number of seats" : "has other purchases";
            case "starts" -> value.isNull() ? "has no start of its term" : "starts on " + moment(value);
            case "ends" -> value.isNull() ? "no longer ends" : "ends on " + moment(value);
            case "components" -> "carries " + (value.isEmpty() ? "nothing" : list(value, before::component));
            case "kinds" -> value.isNull() ? "is for accounts of all kinds" : "is for " + list(value, this::kinds);
            case "price" ->
                value.isNull()
                        ? "no longer has a price"
                        : "costs " + value.path("amount").asText() + " "
                                + value.path("currency").asText() + " a seat each "
                                + value.path("per").asText();
            default -> "has other " + member;
        };
    }

    private String kinds(String word) {
        String kind = estateFormatter.kind(Objects.requireNonNull(AccountKind.BY_WORD.get(word)));
        return kind.equals("person") ? "people" : kind + "s";
    }

    private String changedRelease(String member, JsonNode value, Overlay before) {
        return switch (member) {
            case "oneByOne" -> value.asBoolean() ? "can be taken alone" : "comes with its ring only";
            case "owner" ->
                value.isNull()
                        ? "no longer has an owner"
                        : "is owned by " + before.name(EntityType.ACCOUNT, value.asText());
            case "note" -> value.isNull() ? "no longer has a note" : "has another note";
            case "guide" -> value.isNull() ? "no longer has a guide" : "has another guide";
            case "devices" -> "is for other devices";
            case "atLeast" -> value.isNull() ? "can be tried alone" : "takes " + value.asText() + " at least";
            case "feedbackUntil" ->
                value.isNull()
                        ? "wants feedback for as long as it is there"
                        : "wants feedback until " + day(value.asText());
            case "planned" -> "has other plans";
            case "terms" ->
                value.isNull()
                        ? "no longer has terms"
                        : "has version " + value.path("version").asText() + " of its terms";
            case "notes" -> "has other release notes";
            case "versions" -> "works from other versions on";
            case "held" -> value.isNull() ? "is no longer held" : "is held";
            case "opens" -> "opens otherwise";
            case "early" -> "opens early otherwise";
            default -> "has other " + member;
        };
    }

    private String day(String text) {
        try {
            return estateFormatter.day(LocalDate.parse(text));
        } catch (DateTimeParseException e) {
            return text;
        }
    }

    private String moment(JsonNode value) {
        return Instants.instant(value.asText()).map(estateFormatter::moment).orElse(value.asText());
    }

    private static String accounts(JsonNode ids, Overlay before) {
        return list(ids, id -> before.name(EntityType.ACCOUNT, id));
    }

    private static String list(JsonNode items, Function<String, String> name) {
        return StreamSupport.stream(items.spliterator(), false)
                .map(item -> name.apply(item.asText()))
                .collect(Collectors.joining(", "));
    }
}
