package leanladder.store.entities;

import static leanladder.store.schema.Tables.PART;

import com.fasterxml.jackson.core.JsonGenerator;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.io.IOException;
import java.io.OutputStream;
import java.util.Arrays;
import java.util.EnumSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import leanladder.estate.read.Section;
import leanladder.json.Json;
import leanladder.store.seats.SeatTable;
import org.jooq.Cursor;
import org.jooq.DSLContext;
import org.jooq.JSON;
import org.jooq.Record1;
import org.jooq.SelectConditionStep;
import org.jooq.impl.DSL;

/** Puts the frame and the lists of an estate file together again. */
record EstateExport(DSLContext tx, JsonGenerator out, long asOf, Set<Section> without, boolean holders) {
    private static final int FETCH = 1000;
    private static final int LONG_FETCH = 16;

    /** The whole estate. */
    static void write(DSLContext tx, OutputStream to, long asOf) throws IOException {
        write(tx, to, asOf, EnumSet.noneOf(Section.class), true);
    }

    /** Without the elements of some lists, and without those who hold the seats of plans. */
    static void write(DSLContext tx, OutputStream to, long asOf, Set<Section> without) throws IOException {
        write(tx, to, asOf, without, false);
    }

    private static void write(DSLContext tx, OutputStream to, long asOf, Set<Section> without, boolean holders)
            throws IOException {
        try (JsonGenerator out = Json.MAPPER.getFactory().createGenerator(to)) {
            out.disable(JsonGenerator.Feature.AUTO_CLOSE_TARGET);
            new EstateExport(tx, out, asOf, without, holders).write();
        }
    }

    private void write() throws IOException {
        ObjectNode frame = (ObjectNode)
                single(StoredEntity.FRAME).orElseThrow(() -> new IllegalStateException("There is no estate yet"));
        Optional<JsonNode> ranking = single(StoredEntity.RANKING);
        if (ranking.isPresent()) frame.set("ranking", ranking.get());
        single(StoredEntity.CATALOGUE).ifPresent(catalogue -> frame.set(StoredEntity.CATALOGUE, catalogue));
        for (String section : List.of(StoredEntity.RINGS, StoredEntity.TRACKS))
            single(section).ifPresent(list -> frame.set(section, list));
        for (Section section : Section.values())
            if (section != Section.SETTINGS && !frame.has(section.member()) && !isEmpty(section))
                frame.set(section.member(), Json.NODES.arrayNode());
        // Pictures that nothing names any more are left out (resolution.md, section 11).
        ObjectNode media = PictureTable.findNamed(tx, asOf);
        if (media.isEmpty()) frame.remove(PictureTable.MEDIA);
        else frame.set(PictureTable.MEDIA, media);
        out.writeStartObject();
        var members = frame.fields();
        while (members.hasNext()) {
            var member = members.next();
            out.writeFieldName(member.getKey());
            Optional<Section> section = Arrays.stream(Section.values())
                    .filter(s -> s != Section.SETTINGS && s.member().equals(member.getKey()))
                    .findFirst();
            if (section.isPresent()) list(section.get());
            else if (member.getKey().equals(StoredEntity.CATALOGUE)) catalogue((ObjectNode) member.getValue());
            else Json.MAPPER.writeTree(out, member.getValue());
        }
        out.writeEndObject();
    }

    private void catalogue(ObjectNode catalogue) throws IOException {
        out.writeStartObject();
        var members = catalogue.fields();
        while (members.hasNext()) {
            var member = members.next();
            out.writeFieldName(member.getKey());
            if (member.getKey().equals(Section.SETTINGS.member())) list(Section.SETTINGS);
            else Json.MAPPER.writeTree(out, member.getValue());
        }
        out.writeEndObject();
    }

    private void list(Section section) throws IOException {
        out.writeStartArray();
        if (!without.contains(section))
            try (var rows = of(tx, section, asOf)
                    .orderBy(PART.KEY.collate(DSL.collation("C")))
                    .fetchSize(fetch(section))
                    .fetchLazy()) {
                for (var row : rows)
                    if (section == Section.PLANS && holders)
                        plan((ObjectNode) Json.read(row.value1().data()));
                    else out.writeRawValue(row.value1().data());
            }
        out.writeEndArray();
    }

    /** The bodies of the parts of a section as they come, for a list in which the order says nothing and which takes long to sort. */
    static Cursor<Record1<JSON>> unsorted(DSLContext tx, Section section, long asOf) {
        return of(tx, section, asOf).fetchSize(fetch(section)).fetchLazy();
    }

    private static SelectConditionStep<Record1<JSON>> of(DSLContext tx, Section section, long asOf) {
        return tx.select(PART.BODY).from(PART).where(EntityTable.SPAN.holdsAt(asOf), PART.SECTION.eq(section.member()));
    }

    /** How many are fetched at a time: groups can be long. */
    private static int fetch(Section section) {
        return section == Section.GROUPS ? LONG_FETCH : FETCH;
    }

    /** A plan with its holders, who stand in the ledger. */
    private void plan(ObjectNode plan) throws IOException {
        out.writeStartObject();
        for (var member : plan.properties()) {
            out.writeFieldName(member.getKey());
            Json.MAPPER.writeTree(out, member.getValue());
        }
        boolean[] any = {false};
        SeatTable.holders(tx, plan.path("id").asText(), asOf, (account, granted, source) -> {
            if (!any[0]) out.writeArrayFieldStart("holders");
            any[0] = true;
            if (source != null) out.writeRawValue(source.data());
            else {
                out.writeStartObject();
                out.writeStringField("account", account);
                out.writeStringField("granted", granted);
                out.writeEndObject();
            }
        });
        if (any[0]) out.writeEndArray();
        out.writeEndObject();
    }

    private boolean isEmpty(Section section) {
        return !tx.fetchExists(
                DSL.selectOne().from(PART).where(EntityTable.SPAN.holdsAt(asOf), PART.SECTION.eq(section.member())));
    }

    private Optional<JsonNode> single(String section) {
        return tx.select(PART.BODY)
                .from(PART)
                .where(EntityTable.SPAN.holdsAt(asOf), PART.SECTION.eq(section))
                .fetchOptional(PART.BODY)
                .map(json -> Json.read(json.data()));
    }
}
