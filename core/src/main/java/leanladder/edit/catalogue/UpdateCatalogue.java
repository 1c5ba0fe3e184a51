package leanladder.edit.catalogue;

import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.List;
import java.util.Set;
import leanladder.catalogue.CatalogueFrame;
import leanladder.catalogue.CatalogueReader;
import leanladder.edit.ConflictPaths;
import leanladder.edit.Edit;
import leanladder.edit.EditKind;
import leanladder.estate.read.Section;
import leanladder.json.JsonCursor;
import leanladder.workingcopy.Duty;
import leanladder.workingcopy.Overlay;

/**
 * Sets members of the catalogue beside its settings: apps, entitlements, sizes of hosting and families, each list whole.
 *
 * @param members null removes a member
 */
public record UpdateCatalogue(ObjectNode members) implements Edit {
    private static final String CATALOGUE = "catalogue";

    public static final EditKind KIND = EditKind.of(
            "amend-catalogue",
            Duty.CATALOGUE,
            UpdateCatalogue.class,
            "apps, entitlements, sizes and families of the catalogue, each list whole; null takes a member away");

    @Override
    public UpdateCatalogue apply(Overlay on, JsonCursor at) {
        JsonCursor place = at.member("members").orElseThrow();
        place.member(Section.SETTINGS.member())
                .ifPresent(s -> s.defect("cannot be amended so; use add-setting, amend-setting and remove-setting"));
        int found = at.defects().size();
        ObjectNode amended = Overlay.amended(on.frame().source(), members);
        CatalogueFrame frame =
                CatalogueReader.frame(new JsonCursor(amended, place.pointer(), at.defects()), on::setting);
        if (at.defects().size() == found) {
            List<String> misfits = on.misfits(frame);
            List<String> some = misfits.stream().limit(5).toList();
            if (!misfits.isEmpty())
                place.defect("leaves out what is still used by " + String.join(", ", some)
                        + (misfits.size() > some.size() ? " and " + (misfits.size() - some.size()) + " more" : "")
                        + ". Change these first");
        }
        if (at.defects().size() == found) on.replaceFrame(frame, members);
        return this;
    }

    @Override
    public Set<String> paths() {
        return ConflictPaths.members(CATALOGUE, members);
    }
}
