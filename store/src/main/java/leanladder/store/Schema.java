package leanladder.store;

import java.time.OffsetDateTime;
import java.util.List;
import org.jooq.Field;
import org.jooq.JSON;
import org.jooq.Table;
import org.jooq.impl.DSL;
import org.jooq.impl.SQLDataType;

/** The tables of the migrations, by name. */
final class Schema {
    static final Table<?> CHANGE = DSL.table(DSL.name("change"));
    static final Field<Long> NUMBER = DSL.field(DSL.name("number"), SQLDataType.BIGINT);
    static final Field<OffsetDateTime> AT = DSL.field(DSL.name("at"), SQLDataType.TIMESTAMPWITHTIMEZONE);
    static final Field<String> AUTHOR = DSL.field(DSL.name("author"), SQLDataType.CLOB);
    static final Field<Boolean> PROVEN = DSL.field(DSL.name("proven"), SQLDataType.BOOLEAN);
    static final Field<String> NOTE = DSL.field(DSL.name("note"), SQLDataType.CLOB);
    static final Field<JSON> WORDS = DSL.field(DSL.name("words"), SQLDataType.JSON);
    static final Field<JSON> RIPPLE = DSL.field(DSL.name("ripple"), SQLDataType.JSON);
    static final Field<JSON> EDITS = DSL.field(DSL.name("edits"), SQLDataType.JSON);

    static final Field<OffsetDateTime> PLANNED = DSL.field(DSL.name("planned"), SQLDataType.TIMESTAMPWITHTIMEZONE);

    /** All columns of a change, in the order in which they are written. */
    static final List<Field<?>> CHANGE_COLUMNS =
            List.of(NUMBER, AT, AUTHOR, PROVEN, NOTE, EDITS, WORDS, RIPPLE, PLANNED);

    static final Table<?> DRAFT = DSL.table(DSL.name("draft"));
    static final Field<Long> ID = DSL.field(DSL.name("id"), SQLDataType.BIGINT);
    static final Field<String> NAME = DSL.field(DSL.name("name"), SQLDataType.CLOB);
    static final Field<Long> VERSION = DSL.field(DSL.name("version"), SQLDataType.BIGINT);
    static final Field<JSON> STEPS = DSL.field(DSL.name("steps"), SQLDataType.JSON);
    static final Field<JSON> UNDONE = DSL.field(DSL.name("undone"), SQLDataType.JSON);
    static final Field<OffsetDateTime> DUE = DSL.field(DSL.name("due"), SQLDataType.TIMESTAMPWITHTIMEZONE);
    static final Field<String> STUCK = DSL.field(DSL.name("stuck"), SQLDataType.CLOB);
    static final Field<OffsetDateTime> TOUCHED = DSL.field(DSL.name("touched"), SQLDataType.TIMESTAMPWITHTIMEZONE);

    /** All columns of a draft. */
    static final List<Field<?>> DRAFT_COLUMNS =
            List.of(ID, NAME, AUTHOR, VERSION, STEPS, UNDONE, NOTE, DUE, STUCK, TOUCHED);

    static final Table<?> CARRIED = DSL.table(DSL.name("carried"));

    static final Table<?> PART = DSL.table(DSL.name("part"));
    static final Table<?> INCOMING = DSL.table(DSL.name("incoming"));
    static final Field<String> SECTION = DSL.field(DSL.name("section"), SQLDataType.CLOB);
    static final Field<String> KEY = DSL.field(DSL.name("key"), SQLDataType.CLOB);
    static final Field<Long> SINCE = DSL.field(DSL.name("since"), SQLDataType.BIGINT);
    static final Field<Long> UNTIL = DSL.field(DSL.name("until"), SQLDataType.BIGINT);
    static final Field<JSON> BODY = DSL.field(DSL.name("body"), SQLDataType.JSON);

    private Schema() {}
}
