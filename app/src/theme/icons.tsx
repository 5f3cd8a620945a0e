/** The icons of the interface. They say nothing: the word stands on what they are part of, and a reader would else say `field-time timing`. */
import * as ant from '@ant-design/icons';
import type { ComponentProps } from 'react';

type Icon = typeof ant.AimOutlined;
type IconProps = ComponentProps<Icon>;

const silent = (Icon: Icon) =>
  function SilentIcon(props: IconProps) {
    return <Icon role="presentation" aria-label={undefined} aria-hidden {...props} />;
  };

export const AimOutlined = silent(ant.AimOutlined);
export const ApartmentOutlined = silent(ant.ApartmentOutlined);
export const AppstoreOutlined = silent(ant.AppstoreOutlined);
export const BlockOutlined = silent(ant.BlockOutlined);
export const BorderInnerOutlined = silent(ant.BorderInnerOutlined);
export const BorderlessTableOutlined = silent(ant.BorderlessTableOutlined);
export const CaretDownOutlined = silent(ant.CaretDownOutlined);
export const CaretRightOutlined = silent(ant.CaretRightOutlined);
export const ClearOutlined = silent(ant.ClearOutlined);
export const CopyOutlined = silent(ant.CopyOutlined);
export const DeleteOutlined = silent(ant.DeleteOutlined);
export const DownOutlined = silent(ant.DownOutlined);
export const DownloadOutlined = silent(ant.DownloadOutlined);
export const DragOutlined = silent(ant.DragOutlined);
export const EditOutlined = silent(ant.EditOutlined);
export const EllipsisOutlined = silent(ant.EllipsisOutlined);
export const ExclamationCircleOutlined = silent(ant.ExclamationCircleOutlined);
export const EyeInvisibleOutlined = silent(ant.EyeInvisibleOutlined);
export const EyeOutlined = silent(ant.EyeOutlined);
export const FieldTimeOutlined = silent(ant.FieldTimeOutlined);
export const FilterOutlined = silent(ant.FilterOutlined);
export const FolderOutlined = silent(ant.FolderOutlined);
export const GroupOutlined = silent(ant.GroupOutlined);
export const HolderOutlined = silent(ant.HolderOutlined);
export const InboxOutlined = silent(ant.InboxOutlined);
export const LeftOutlined = silent(ant.LeftOutlined);
export const LinkOutlined = silent(ant.LinkOutlined);
export const LockOutlined = silent(ant.LockOutlined);
export const PauseOutlined = silent(ant.PauseOutlined);
export const PicCenterOutlined = silent(ant.PicCenterOutlined);
export const PlayCircleOutlined = silent(ant.PlayCircleOutlined);
export const PlusOutlined = silent(ant.PlusOutlined);
export const RedoOutlined = silent(ant.RedoOutlined);
export const RetweetOutlined = silent(ant.RetweetOutlined);
export const RiseOutlined = silent(ant.RiseOutlined);
export const ScissorOutlined = silent(ant.ScissorOutlined);
export const SearchOutlined = silent(ant.SearchOutlined);
export const StepBackwardOutlined = silent(ant.StepBackwardOutlined);
export const StepForwardOutlined = silent(ant.StepForwardOutlined);
export const SwapOutlined = silent(ant.SwapOutlined);
export const SwitcherOutlined = silent(ant.SwitcherOutlined);
export const SyncOutlined = silent(ant.SyncOutlined);
export const ThunderboltOutlined = silent(ant.ThunderboltOutlined);
export const UndoOutlined = silent(ant.UndoOutlined);
export const UnlockOutlined = silent(ant.UnlockOutlined);
export const UploadOutlined = silent(ant.UploadOutlined);
export const UserOutlined = silent(ant.UserOutlined);
export const VerticalAlignBottomOutlined = silent(ant.VerticalAlignBottomOutlined);
