package leanladder.demo;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import leanladder.json.Json;

/** Brings the catalogue's data file into the estate format: what the file leaves out for brevity is filled in. */
record DemoCatalogue(JsonNode data) {
    ObjectNode build() {
        ObjectNode catalogue = Json.NODES.objectNode();
        catalogue.set("sizes", data.get("sizes"));
        ArrayNode apps = catalogue.putArray("apps");
        ArrayNode entitlements = catalogue.putArray("entitlements");
        ArrayNode settings = catalogue.putArray("settings");
        data.get("entitlements")
                .fields()
                .forEachRemaining(
                        e -> entitlements.addObject().put("id", e.getKey()).set("name", e.getValue()));
        data.get("apps").fields().forEachRemaining(app -> {
            apps.addObject().put("id", app.getKey()).set("name", app.getValue().get("name"));
            app.getValue().get("settings").forEach(s -> settings.add(setting(app.getKey(), (ObjectNode) s)));
        });
        catalogue.set("families", data.get("families"));
        return catalogue;
    }

    private static ObjectNode setting(String app, ObjectNode written) {
        ObjectNode setting = Json.NODES.objectNode();
        setting.set("key", written.get("key"));
        setting.put("app", app);
        setting.set("title", written.get("title"));
        setting.put("type", written.path("type").asText("switch"));
        setting.setAll(written);
        boolean isSwitch = setting.get("type").asText().equals("switch");
        if (isSwitch && !setting.has("strict")) setting.put("strict", false);
        if (isSwitch && !setting.has("default")) setting.put("default", true);
        if (setting.has("needs") && !setting.has("fallback")) setting.set("fallback", strictEnd(setting));
        JsonNode settles = setting.get("settles");
        if (settles != null) {
            ObjectNode told = Json.NODES.objectNode();
            told.set("minMinutes", settles.get(0));
            told.set("maxMinutes", settles.get(1));
            told.set("then", settles.get(2));
            setting.set("settles", told);
        }
        return setting;
    }

    private static JsonNode strictEnd(ObjectNode setting) {
        return switch (setting.get("type").asText()) {
            case "switch" -> setting.get("strict");
            case "choice" -> setting.get("options").get(0);
            default -> setting.get(setting.get("strict").asText().equals("lower") ? "min" : "max");
        };
    }
}
