package leanladder.demo;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.Optional;
import leanladder.catalogue.Setting;
import leanladder.json.Json;

/** What a company starts with: a catalogue, its preview rings and one unit, the organisation itself; nobody and no policy. */
public final class StarterEstate {
    private StarterEstate() {}

    /**
     * The estate file.
     *
     * @param organisation name, time zone and region, as the estate file writes them
     * @param catalogue the vendor's catalogue; the starter catalogue where there is none
     */
    public static ObjectNode build(ObjectNode organisation, Optional<ObjectNode> catalogue) {
        ObjectNode estate = Json.NODES.objectNode().put("format", "lean-ladder-estate/1");
        estate.set("organisation", organisation);
        estate.putArray("units")
                .addObject()
                .put("id", "organisation")
                .put("name", organisation.path("name").asText());
        for (String list :
                new String[] {"accounts", "groups", "workspaces", "policies", "ranking", "plans", "releases"})
            estate.putArray(list);
        estate.set(
                "catalogue", catalogue.orElseGet(() -> new DemoCatalogue(DemoEstate.data("catalogue.yaml")).build()));
        estate.set("rings", catalogue.map(StarterEstate::rings).orElseGet(() ->
                (ArrayNode) DemoEstate.data("company.yaml").get("rings")));
        if (catalogue.isEmpty())
            estate.set("tracks", DemoEstate.data("company.yaml").get("tracks"));
        return estate;
    }

    /** The rings that the ring setting of a catalogue offers; the outermost is for everyone, the others ask for consent. */
    private static ArrayNode rings(ObjectNode catalogue) {
        ArrayNode rings = Json.NODES.arrayNode();
        for (JsonNode setting : catalogue.path("settings")) {
            if (!setting.path("key").asText().equals(Setting.RING)) continue;
            JsonNode options = setting.path("options");
            for (int i = 0; i < options.size(); i++) {
                String id = options.get(i).asText();
                String name = id.replace('-', ' ');
                rings.addObject()
                        .put("id", id)
                        .put("name", name.isEmpty() ? name : Character.toUpperCase(name.charAt(0)) + name.substring(1))
                        .put("asksConsent", i < options.size() - 1);
            }
        }
        return rings;
    }
}
