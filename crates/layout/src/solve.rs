//! Sizes and places of boxes. Blocks, flexible boxes and grids are solved by `taffy`; lines by ours.

use taffy::prelude::*;
use taffy::{
    AxisStaticEdge, AxisStaticPosition, Baselines, BlockContext, Cache, CacheTree, Layout, LayoutBlockContainer, LayoutContainingBlock,
    LayoutFlexboxContainer, LayoutGridContainer, LayoutInput, LayoutOutput, LayoutPartialTree, OofCandidate, OofCandidates, Point,
    ResolveOrZero, RunMode, SizingMode, Style, TraversePartialTree, TraverseTree, compute_block_layout, compute_cached_layout,
    compute_flexbox_layout, compute_grid_layout, compute_hidden_layout, compute_leaf_layout, compute_oof_layout, compute_root_layout,
};

use crate::boxes::{Boxes, Kind};
use crate::lines::Atom;

impl Boxes {
    /// Finds out how large every box is and where it stands within the one around it.
    pub fn solve(&mut self, width: f32, height: f32) {
        let window = NodeId::from(self.list.len() - 1);
        compute_root_layout(self, window, Size { width: AvailableSpace::Definite(width), height: AvailableSpace::Definite(height) });
    }

    fn layout(&mut self, id: NodeId, inputs: LayoutInput, context: Option<&mut BlockContext<'_>>) -> LayoutOutput {
        if inputs.run_mode == RunMode::PerformHiddenLayout {
            return compute_hidden_layout(self, id);
        }
        compute_cached_layout(self, id, inputs, |tree, id, inputs| {
            let node = &tree.list[usize::from(id)];
            let flows = node.style.display == Display::Block;
            let mut output = match &node.kind {
                Kind::Lines(_) => return tree.lines(id, inputs),
                Kind::Own(_) => return tree.own(id, inputs),
                Kind::Block => compute_block_layout(tree, id, inputs, if flows { context } else { None }),
                Kind::Flex => compute_flexbox_layout(tree, id, inputs),
                Kind::Grid => compute_grid_layout(tree, id, inputs),
            };
            if inputs.run_mode == RunMode::PerformLayout {
                compute_oof_layout(tree, id, &mut output);
            }
            output
        })
    }

    /// A box with a size of its own.
    fn own(&mut self, id: NodeId, inputs: LayoutInput) -> LayoutOutput {
        let node = &self.list[usize::from(id)];
        let Kind::Own(natural) = node.kind else { return LayoutOutput::DEFAULT };
        let style = node.style.clone();
        compute_leaf_layout(
            inputs,
            &style,
            |number, basis| self.expressions.resolve(number, basis),
            |known, available| {
                let ratio = style.aspect_ratio;
                let wide = match available.width {
                    AvailableSpace::Definite(width) if natural.fills => width,
                    _ => natural.width,
                };
                let width = known.width.or_else(|| Some(known.height? * ratio?)).unwrap_or(wide);
                let high = ratio.map_or(natural.height, |ratio| width / ratio);
                Size { width, height: known.height.unwrap_or(if known.width.is_some() || natural.fills { high } else { natural.height }) }
            },
        )
    }

    /// Text and what stands among it.
    fn lines(&mut self, id: NodeId, inputs: LayoutInput) -> LayoutOutput {
        let Kind::Lines(lines) = &self.list[usize::from(id)].kind else { return LayoutOutput::DEFAULT };
        let lines = lines.clone();
        let limit = inputs.known_dimensions.width.unwrap_or(match inputs.available_space.width {
            AvailableSpace::Definite(width) => width,
            AvailableSpace::MinContent => 0.0,
            AvailableSpace::MaxContent => f32::INFINITY,
        });
        let is_measure = inputs.run_mode != RunMode::PerformLayout;
        // While it is asked how wide it would be, percentages within count from nothing (CSS Sizing 3 §5.2.1).
        let parent_size = Size { width: inputs.known_dimensions.width, height: inputs.parent_size.height };
        let width = match (inputs.known_dimensions.width, inputs.available_space.width) {
            (Some(width), _) => AvailableSpace::Definite(width),
            (None, width) => width,
        };
        let asked = LayoutInput {
            run_mode: inputs.run_mode,
            sizing_mode: SizingMode::InherentSize,
            axis: inputs.axis,
            known_dimensions: Size::NONE,
            known_dimensions_are_definite: Size { width: true, height: true },
            parent_size,
            available_space: Size { width, height: AvailableSpace::MaxContent },
            vertical_margins_are_collapsible: Line::FALSE,
        };
        let mut outputs: Vec<(usize, LayoutOutput)> = Vec::new();
        let filled = lines.fill(limit, inputs.known_dimensions.width, &mut |index| {
            if let Some((_, output)) = outputs.iter().find(|(i, _)| *i == index) {
                return self.atom(index, output, parent_size.width);
            }
            let margin = self.margin(index, parent_size.width);
            let inner = AvailableSpace::Definite(limit - margin.left - margin.right);
            let available =
                if matches!(asked.available_space.width, AvailableSpace::Definite(_)) { inner } else { asked.available_space.width };
            let asked = LayoutInput { available_space: Size { width: available, ..asked.available_space }, ..asked };
            let output = self.shrunk(index, asked);
            let atom = self.atom(index, &output, parent_size.width);
            outputs.push((index, output));
            atom
        });
        let size = inputs.known_dimensions.unwrap_or(Size { width: filled.width, height: filled.height });
        let mut candidates = OofCandidates::NONE;
        let mut reach = Rect { left: 0.0, top: 0.0, right: filled.width, bottom: filled.height };
        if !is_measure {
            for (index, x, y) in &filled.atoms {
                let Some((_, output)) = outputs.iter_mut().find(|(i, _)| i == index) else { continue };
                let margin = self.margin(*index, parent_size.width);
                let location = Point { x: x + margin.left, y: y + margin.top };
                reach.right = reach.right.max(location.x + output.size.width);
                output.oof_candidates.translate(location);
                candidates.append(&mut output.oof_candidates);
                let resolve = |number: *const (), basis: f32| self.expressions.resolve(number, basis);
                let style = &self.list[*index].style;
                let (border, padding) =
                    (style.border.resolve_or_zero(parent_size.width, resolve), style.padding.resolve_or_zero(parent_size.width, resolve));
                let layout = Layout {
                    location,
                    size: output.size,
                    scrollable_overflow_rect: output.scrollable_overflow_rect,
                    border,
                    padding,
                    margin,
                    ..Layout::new()
                };
                self.list[*index].layout = layout;
            }
            for (order, (index, x, y)) in filled.aways.iter().enumerate() {
                let at = |anchor: f32| AxisStaticPosition::from_edge(anchor, AxisStaticEdge::Start);
                candidates.push(OofCandidate {
                    node: NodeId::from(*index),
                    order: u32::try_from(order).unwrap_or(0),
                    position: self.list[*index].style.position,
                    static_position: Point { x: at(*x), y: at(*y) },
                });
            }
            self.list[usize::from(id)].parts = filled.parts;
        }
        let baselines = filled.baselines.map_or(Baselines::NONE, |(first, last)| Baselines { first: Some(first), last: Some(last) });
        LayoutOutput { oof_candidates: candidates, ..LayoutOutput::from_sizes_and_baselines(size, reach, baselines) }
    }

    /// The layout of a box in a line: as wide as what it holds asks for; and then it is that wide, which percentages within count from
    /// (CSS Sizing 3 §5.2.1).
    fn shrunk(&mut self, index: usize, mut asked: LayoutInput) -> LayoutOutput {
        let id = NodeId::from(index);
        if asked.run_mode == RunMode::PerformLayout && matches!(self.list[index].kind, Kind::Flex | Kind::Grid) {
            let measured = self.compute_child_layout(id, LayoutInput { run_mode: RunMode::ComputeSize, ..asked });
            asked.known_dimensions.width = Some(measured.size.width);
        }
        self.compute_child_layout(id, asked)
    }

    fn margin(&self, index: usize, width: Option<f32>) -> Rect<f32> {
        self.list[index].style.margin.resolve_or_zero(width, |number, basis| self.expressions.resolve(number, basis))
    }

    /// How a box counts in its line.
    fn atom(&self, index: usize, output: &LayoutOutput, width: Option<f32>) -> Atom {
        let margin = self.margin(index, width);
        let node = &self.list[index];
        let height = output.size.height + margin.top + margin.bottom;
        // A box that clips stands on its lower edge, as does what has no text.
        let clips = node.style.overflow.y != taffy::Overflow::Visible && matches!(node.kind, Kind::Block);
        let own = match &node.kind {
            Kind::Own(natural) => natural.baseline.map(|b| {
                let resolve = |number: *const (), basis: f32| self.expressions.resolve(number, basis);
                let above = node.style.border.top.resolve_or_zero(width, resolve) + node.style.padding.top.resolve_or_zero(width, resolve);
                // Text stands in the middle of a control that is higher than it.
                let spare = (output.size.height - natural.height - 2.0 * above).max(0.0) / 2.0;
                above + spare + b
            }),
            Kind::Block => output.baselines.last.or(output.baselines.first),
            _ => output.baselines.first,
        };
        let baseline = own.filter(|_| !clips).map_or(height, |b| b + margin.top);
        Atom { width: output.size.width + margin.left + margin.right, height, baseline }
    }
}

/// The numbers of children.
pub struct Children<'a>(std::slice::Iter<'a, usize>);

impl Iterator for Children<'_> {
    type Item = NodeId;
    fn next(&mut self) -> Option<NodeId> {
        self.0.next().copied().map(NodeId::from)
    }
}

impl TraversePartialTree for Boxes {
    type ChildIter<'a> = Children<'a>;
    fn child_ids(&self, id: NodeId) -> Children<'_> {
        Children(self.list[usize::from(id)].children.iter())
    }
    fn child_count(&self, id: NodeId) -> usize {
        self.list[usize::from(id)].children.len()
    }
    fn get_child_id(&self, id: NodeId, index: usize) -> NodeId {
        NodeId::from(self.list[usize::from(id)].children[index])
    }
}

impl TraverseTree for Boxes {}

impl LayoutPartialTree for Boxes {
    type CoreContainerStyle<'a> = &'a Style;
    type CustomIdent = String;
    fn get_core_container_style(&self, id: NodeId) -> &Style {
        &self.list[usize::from(id)].style
    }
    fn resolve_calc_value(&self, number: *const (), basis: f32) -> f32 {
        self.expressions.resolve(number, basis)
    }
    fn set_unrounded_layout(&mut self, id: NodeId, layout: &Layout) {
        self.list[usize::from(id)].layout = *layout;
    }
    fn compute_child_layout(&mut self, id: NodeId, inputs: LayoutInput) -> LayoutOutput {
        self.layout(id, inputs, None)
    }
}

impl LayoutContainingBlock for Boxes {
    type OofItemStyle<'a> = &'a Style;
    fn get_oof_item_style(&self, id: NodeId) -> &Style {
        &self.list[usize::from(id)].style
    }
    fn clear_hoisted_children(&mut self, id: NodeId) {
        self.list[usize::from(id)].hoisted.clear();
    }
    fn add_hoisted_children(&mut self, id: NodeId, hoisted: &[NodeId]) {
        self.list[usize::from(id)].hoisted.extend(hoisted.iter().map(|h| usize::from(*h)));
    }
}

impl CacheTree for Boxes {
    fn cache_get(&mut self, id: NodeId, input: &LayoutInput) -> Option<LayoutOutput> {
        self.list[usize::from(id)].cache.get(input)
    }
    fn cache_store(&mut self, id: NodeId, input: &LayoutInput, output: LayoutOutput) {
        self.list[usize::from(id)].cache.store(input, output);
    }
    fn cache_clear(&mut self, id: NodeId) {
        self.list[usize::from(id)].cache = Cache::new();
    }
}

impl LayoutFlexboxContainer for Boxes {
    type FlexboxContainerStyle<'a> = &'a Style;
    type FlexboxItemStyle<'a> = &'a Style;
    fn get_flexbox_container_style(&self, id: NodeId) -> &Style {
        &self.list[usize::from(id)].style
    }
    fn get_flexbox_child_style(&self, id: NodeId) -> &Style {
        &self.list[usize::from(id)].style
    }
}

impl LayoutGridContainer for Boxes {
    type GridContainerStyle<'a> = &'a Style;
    type GridItemStyle<'a> = &'a Style;
    fn get_grid_container_style(&self, id: NodeId) -> &Style {
        &self.list[usize::from(id)].style
    }
    fn get_grid_child_style(&self, id: NodeId) -> &Style {
        &self.list[usize::from(id)].style
    }
}

impl LayoutBlockContainer for Boxes {
    type BlockContainerStyle<'a> = &'a Style;
    type BlockItemStyle<'a> = &'a Style;
    fn get_block_container_style(&self, id: NodeId) -> &Style {
        &self.list[usize::from(id)].style
    }
    fn get_block_child_style(&self, id: NodeId) -> &Style {
        &self.list[usize::from(id)].style
    }
    fn compute_block_child_layout(&mut self, id: NodeId, inputs: LayoutInput, context: Option<&mut BlockContext<'_>>) -> LayoutOutput {
        self.layout(id, inputs, context)
    }
}
