package leanladder.store.db;

import java.time.Instant;
import java.time.OffsetDateTime;
import java.time.ZoneOffset;
import java.time.temporal.ChronoUnit;
import java.util.List;
import org.jooq.Condition;
import org.jooq.Field;
import org.jooq.JSON;
import org.jooq.Table;
import org.jooq.impl.DSL;
import org.jooq.impl.SQLDataType;
import org.jooq.types.YearToSecond;

/** The tables of the migrations, by name. */
public final class Schema {
    public static final Table<?> CHANGE = DSL.table(DSL.name("change"));
    public static final Field<Long> NUMBER = DSL.field(DSL.name("number"), SQLDataType.BIGINT);
    public static final Field<OffsetDateTime> AT = DSL.field(DSL.name("at"), SQLDataType.TIMESTAMPWITHTIMEZONE);
    public static final Field<String> AUTHOR = DSL.field(DSL.name("author"), SQLDataType.CLOB);
    public static final Field<Boolean> PROVEN = DSL.field(DSL.name("proven"), SQLDataType.BOOLEAN);
    public static final Field<String> NOTE = DSL.field(DSL.name("note"), SQLDataType.CLOB);
    public static final Field<JSON> WORDS = DSL.field(DSL.name("words"), SQLDataType.JSON);
    public static final Field<JSON> RIPPLE = DSL.field(DSL.name("ripple"), SQLDataType.JSON);
    public static final Field<JSON> EDITS = DSL.field(DSL.name("edits"), SQLDataType.JSON);
    public static final Field<OffsetDateTime> PLANNED =
            DSL.field(DSL.name("planned"), SQLDataType.TIMESTAMPWITHTIMEZONE);

    /** What a change is about; null where that is not worked out yet. */
    public static final Field<String[]> SUBJECTS = DSL.field(DSL.name("subjects"), SQLDataType.CLOB.getArrayDataType());

    /** All columns of a change, in the order in which they are written. */
    public static final List<Field<?>> CHANGE_COLUMNS =
            List.of(NUMBER, AT, AUTHOR, PROVEN, NOTE, EDITS, WORDS, RIPPLE, PLANNED);

    public static final Table<?> DRAFT = DSL.table(DSL.name("draft"));
    public static final Field<Long> ID = DSL.field(DSL.name("id"), SQLDataType.BIGINT);
    public static final Field<String> NAME = DSL.field(DSL.name("name"), SQLDataType.CLOB);
    public static final Field<Long> VERSION = DSL.field(DSL.name("version"), SQLDataType.BIGINT);
    public static final Field<OffsetDateTime> DUE = DSL.field(DSL.name("due"), SQLDataType.TIMESTAMPWITHTIMEZONE);
    public static final Field<String> STUCK = DSL.field(DSL.name("stuck"), SQLDataType.CLOB);
    public static final Field<OffsetDateTime> TOUCHED =
            DSL.field(DSL.name("touched"), SQLDataType.TIMESTAMPWITHTIMEZONE);

    /** All columns of a draft. */
    public static final List<Field<?>> DRAFT_COLUMNS = List.of(ID, NAME, AUTHOR, VERSION, NOTE, DUE, STUCK, TOUCHED);

    public static final Table<?> STEP = DSL.table(DSL.name("draft_step"));
    public static final Field<Long> DRAFT_OF = DSL.field(DSL.name("draft"), SQLDataType.BIGINT);
    public static final Field<Integer> STEP_NUMBER = DSL.field(DSL.name("number"), SQLDataType.INTEGER);
    public static final Field<Boolean> UNDONE = DSL.field(DSL.name("undone"), SQLDataType.BOOLEAN);
    public static final Field<JSON> STEP_JSON = DSL.field(DSL.name("step"), SQLDataType.JSON);
    /** How many edits a step holds; the database counts. */
    public static final Field<Integer> STEP_EDITS = DSL.field(DSL.name("edits"), SQLDataType.INTEGER);
    /** How many bytes they take as text; the database counts. */
    public static final Field<Long> STEP_SIZE = DSL.field(DSL.name("size"), SQLDataType.BIGINT);

    public static final Table<?> CARRIED = DSL.table(DSL.name("carried"));

    public static final Table<?> PART = DSL.table(DSL.name("part"));
    public static final Table<?> INCOMING = DSL.table(DSL.name("incoming"));
    public static final Field<String> SECTION = DSL.field(DSL.name("section"), SQLDataType.CLOB);
    public static final Field<String> KEY = DSL.field(DSL.name("key"), SQLDataType.CLOB);
    public static final Field<Long> SINCE = DSL.field(DSL.name("since"), SQLDataType.BIGINT);
    public static final Field<Long> UNTIL = DSL.field(DSL.name("until"), SQLDataType.BIGINT);
    public static final Field<JSON> BODY = DSL.field(DSL.name("body"), SQLDataType.JSON);

    /** The parts that hold now. */
    public static final Condition PRESENT = UNTIL.isNull();

    public static final Table<?> CALENDAR = DSL.table(DSL.name("calendar"));
    public static final Field<String> SCOPE = DSL.field(DSL.name("scope"), SQLDataType.CLOB);
    public static final Field<String> SECRET = DSL.field(DSL.name("secret"), SQLDataType.CLOB);
    public static final Field<OffsetDateTime> MADE = DSL.field(DSL.name("made"), SQLDataType.TIMESTAMPWITHTIMEZONE);

    public static final Table<?> FEATURE_REQUEST = DSL.table(DSL.name("feature_request"));
    public static final Field<String> ACCOUNT = DSL.field(DSL.name("account"), SQLDataType.CLOB);
    public static final Field<String> SETTING = DSL.field(DSL.name("setting"), SQLDataType.CLOB);
    public static final Field<String> WORKSPACE = DSL.field(DSL.name("workspace"), SQLDataType.CLOB);
    public static final Field<JSON> WANTED = DSL.field(DSL.name("wanted"), SQLDataType.JSON);
    public static final Field<String> SAID = DSL.field(DSL.name("words"), SQLDataType.CLOB);
    public static final Field<OffsetDateTime> ASKED = DSL.field(DSL.name("asked"), SQLDataType.TIMESTAMPWITHTIMEZONE);
    public static final Field<String> STATE = DSL.field(DSL.name("state"), SQLDataType.CLOB);
    public static final Field<OffsetDateTime> ANSWERED =
            DSL.field(DSL.name("answered"), SQLDataType.TIMESTAMPWITHTIMEZONE);
    public static final Field<String> ANSWERED_BY = DSL.field(DSL.name("answered_by"), SQLDataType.CLOB);
    public static final Field<String> SENTENCE = DSL.field(DSL.name("sentence"), SQLDataType.CLOB);
    public static final Field<Long> GRANTED_BY = DSL.field(DSL.name("change"), SQLDataType.BIGINT);

    /** All columns of a feature request. */
    public static final List<Field<?>> FEATURE_REQUEST_COLUMNS = List.of(
            ID, ACCOUNT, SETTING, WORKSPACE, WANTED, SAID, ASKED, STATE, ANSWERED, ANSWERED_BY, SENTENCE, GRANTED_BY);

    public static final Table<?> ARRIVAL_CHECK = DSL.table(DSL.name("arrival_check"));
    public static final Field<String> WHO = DSL.field(DSL.name("who"), SQLDataType.CLOB);
    public static final Field<Long> AS_OF = DSL.field(DSL.name("change"), SQLDataType.BIGINT);
    public static final Field<OffsetDateTime> WRITTEN =
            DSL.field(DSL.name("written"), SQLDataType.TIMESTAMPWITHTIMEZONE);
    public static final Field<String> WRITTEN_BY = DSL.field(DSL.name("written_by"), SQLDataType.CLOB);
    public static final Field<OffsetDateTime> LOOKED_AT_FROM =
            DSL.field(DSL.name("due"), SQLDataType.TIMESTAMPWITHTIMEZONE);
    public static final Field<YearToSecond> WITHIN = DSL.field(DSL.name("within"), SQLDataType.INTERVAL);
    public static final Field<OffsetDateTime> LOOKED = DSL.field(DSL.name("looked"), SQLDataType.TIMESTAMPWITHTIMEZONE);

    /** All columns of a check. */
    public static final List<Field<?>> ARRIVAL_CHECK_COLUMNS = List.of(
            ID, WHO, SETTING, WORKSPACE, AS_OF, DRAFT_OF, WRITTEN, WRITTEN_BY, LOOKED_AT_FROM, STATE, LOOKED, SAID);

    public static final Table<?> OUTGOING_MAIL = DSL.table(DSL.name("outgoing_mail"));
    public static final Field<String> ADDRESS = DSL.field(DSL.name("address"), SQLDataType.CLOB);
    public static final Field<String> SUBJECT = DSL.field(DSL.name("subject"), SQLDataType.CLOB);
    public static final Field<String> MAIL_BODY = DSL.field(DSL.name("body"), SQLDataType.CLOB);
    public static final Field<Integer> TRIES = DSL.field(DSL.name("tries"), SQLDataType.INTEGER);
    public static final Field<OffsetDateTime> SENT = DSL.field(DSL.name("sent"), SQLDataType.TIMESTAMPWITHTIMEZONE);
    public static final Field<String> TROUBLE = DSL.field(DSL.name("trouble"), SQLDataType.CLOB);

    static final Table<?> REQUEST = DSL.table(DSL.name("request"));
    static final Field<String> ACTOR = DSL.field(DSL.name("actor"), SQLDataType.CLOB);
    static final Field<String> FINGERPRINT = DSL.field(DSL.name("fingerprint"), SQLDataType.CLOB);
    static final Field<Long> REFERENCE = DSL.field(DSL.name("reference"), SQLDataType.BIGINT);
    static final Field<JSON> ANSWER = DSL.field(DSL.name("answer"), SQLDataType.JSON);

    private Schema() {}

    /** An instant as a column holds it. */
    public static OffsetDateTime micros(Instant at) {
        return at.truncatedTo(ChronoUnit.MICROS).atOffset(ZoneOffset.UTC);
    }

    /** The parts that held after one change and not after another, before or after it. */
    public static Condition holdingOnlyAt(long number, long not) {
        return number < not
                ? SINCE.le(number).and(UNTIL.gt(number)).and(UNTIL.le(not))
                : SINCE.gt(not).and(SINCE.le(number)).and(UNTIL.isNull().or(UNTIL.gt(number)));
    }

    /** The parts that held after a change. */
    public static Condition holdingAt(long number) {
        return SINCE.le(number).and(UNTIL.isNull().or(UNTIL.gt(number)));
    }
}
